<script setup lang="ts">
import Select from 'primevue/select'
import { ref, watch } from 'vue'

import type { components } from '@/api/schema'
import { t } from '@/words'

import BenchPerson from './BenchPerson.vue'

/** A made-up face to show: whose, and how; everybody has one, enrolled or not. */
type ToShow = components['schemas']['FaceToShowRequest']
const face = defineModel<ToShow | null>({ required: true })

const NONE = 'none'
const whose = ref<number | null>(null)
const how = ref<NonNullable<ToShow['how']> | typeof NONE>(NONE)
const HOWS = ['as_it_is', 'glasses', 'turned', 'dim', 'smiling'] as const
const hows = [
  { value: NONE, word: t('bench.noFace') },
  ...HOWS.map((value) => ({ value, word: t(`bench.faces.${value}`) })),
]
watch([whose, how], () => {
  face.value = how.value === NONE ? null : { cardholder: whose.value, how: how.value }
})
</script>

<template>
  <div class="face">
    <Select
      v-model="how"
      size="small"
      class="how"
      :options="hows"
      option-label="word"
      option-value="value"
      :aria-label="t('bench.howShown')"
    />
    <BenchPerson v-if="how !== NONE" v-model="whose" :label="t('bench.whoseFace')" />
  </div>
</template>

<style scoped>
.face {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}
.how {
  width: 180px;
}
</style>
