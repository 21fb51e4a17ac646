<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import AutoComplete from 'primevue/autocomplete'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { type Finger, FINGERS } from '@/sections/cardholders/fingers/fingers'
import { t } from '@/words'

/** A made-up finger to lay: whose, which, and how; anybody has ten, enrolled or not. */
type ToLay = components['schemas']['FingerToLayRequest']
const finger = defineModel<ToLay | null>({ required: true })

const NONE = 'none'
const NOBODY = { id: null, name: t('bench.nobodysFinger') }
const whose = ref<{ id: number | null; name: string } | string>(NOBODY)
const which = ref<Finger | typeof NONE>(NONE)
const how = ref<ToLay['how']>('well')
const HOWS = ['well', 'dry', 'wet', 'partial', 'turned'] as const
const hows = HOWS.map((value) => ({ value, word: t(`bench.laid.${value}`) }))
const fingers = [
  { value: NONE, word: t('bench.noFinger') },
  ...FINGERS.map((value) => ({ value, word: t(`fingers.names.${value}`) })),
]

const asked = ref('')
const { data: found } = useQuery({
  queryKey: ['bench', 'find', asked],
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/cardholders/find/', { params: { query: { text: asked.value } }, signal })),
  enabled: computed(() => asked.value.length > 0),
  placeholderData: keepPreviousData,
})
const people = computed(() => [
  NOBODY,
  ...(asked.value ? (found.value ?? []) : []).map((one) => ({ id: one.id, name: one.display_name })),
])
function told() {
  const person = typeof whose.value === 'string' ? null : whose.value
  finger.value =
    which.value === NONE || !person ? null : { cardholder: person.id, finger: which.value, how: how.value }
}
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
      @update:model-value="told"
    />
    <template v-if="which !== NONE">
      <AutoComplete
        v-model="whose"
        size="small"
        class="whose"
        option-label="name"
        dropdown
        :suggestions="people"
        :min-length="0"
        :input-props="{ 'aria-label': t('bench.whoseFinger') }"
        :aria-label="t('bench.whoseFinger')"
        @complete="asked = $event.query"
        @update:model-value="told"
      />
      <Select
        v-model="how"
        size="small"
        class="how"
        :options="hows"
        option-label="word"
        option-value="value"
        :aria-label="t('bench.howLaid')"
        @update:model-value="told"
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
.which,
.whose {
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
