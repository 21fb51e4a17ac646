<script setup lang="ts">
import Select from 'primevue/select'
import { ref, watch } from 'vue'

import type { components } from '@/api/schema'
import { type Finger, FINGERS } from '@/sections/cardholders/fingers/fingers'
import { t } from '@/words'

import BenchPerson from './BenchPerson.vue'

/** A made-up finger to lay: whose, which, and how; anybody has ten, enrolled or not. */
type ToLay = components['schemas']['FingerToLayRequest']
const finger = defineModel<ToLay | null>({ required: true })

const NONE = 'none'
const whose = ref<number | null>(null)
const which = ref<Finger | typeof NONE>(NONE)
const how = ref<ToLay['how']>('well')
const HOWS = ['well', 'dry', 'wet', 'partial', 'turned'] as const
const hows = HOWS.map((value) => ({ value, word: t(`bench.laid.${value}`) }))
const fingers = [
  { value: NONE, word: t('bench.noFinger') },
  ...FINGERS.map((value) => ({ value, word: t(`fingers.names.${value}`) })),
]

watch([whose, which, how], () => {
  finger.value =
    which.value === NONE ? null : { cardholder: whose.value, finger: which.value, how: how.value }
})
</script>

<template>
  <div class="finger">
    <Select
      v-model="which"
      size="small"
      class="which"
      :options="fingers"
      option-label="word"
      option-value="value"
      :aria-label="t('bench.whichFinger')"
    />
    <template v-if="which !== NONE">
      <BenchPerson v-model="whose" :label="t('bench.whoseFinger')" />
      <Select
        v-model="how"
        size="small"
        class="how"
        :options="hows"
        option-label="word"
        option-value="value"
        :aria-label="t('bench.howLaid')"
      />
      <p class="dim">{{ t('bench.notChecked') }}</p>
    </template>
  </div>
</template>

<style scoped>
.finger {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}
.which {
  width: 180px;
}
.how {
  width: 116px;
}
.dim {
  font-size: 12px;
  color: var(--p-cadrin-bar-quiet);
}
</style>
