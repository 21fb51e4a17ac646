<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, watch } from 'vue'

import { client, type House, type Problem, Refusal, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import CheckLine from '@/kit/controls/CheckLine.vue'
import { dayHint } from '@/kit/time/days'
import Field from '@/kit/controls/Field.vue'
import InstantField from '@/kit/time/InstantField.vue'
import SpanFields from '@/kit/time/SpanFields.vue'
import { t, wordsFor } from '@/words'

import BatchEffect from './BatchEffect.vue'
import { batchesOf, isReady, NONE, type Order, proposedGroups } from './orders'
import type { Selection } from './selection'

/** One act on everybody who is selected: to what, and what it will do, to how many, and whom it leaves alone. */
const props = defineProps<{ selection: Selection; choices: House; refused: Problem[] }>()
const order = defineModel<Order>({ required: true })
/** How many it changes; 0 until that is known. */
const changed = defineModel<number>('changed', { required: true })

const STANDINGS = ['active', 'suspended', 'barred', 'departed'] as const
const standings = STANDINGS.map((value) => ({ value, word: t(`standings.${value}`) }))
const options = computed(() => {
  const open = <T extends { is_retired: boolean }>(all: T[]) => [
    { id: NONE, name: t('common.none') },
    ...all.filter((one) => !one.is_retired),
  ]
  switch (order.value.act) {
    case 'department':
      return open(props.choices.departments)
    case 'company':
      return open(props.choices.companies)
    case 'kind':
      return open(props.choices.kinds)
    default:
      return props.choices.groups
  }
})
const isGroup = computed(() => order.value.act.endsWith('group'))
const isChoice = computed(() => order.value.act !== 'standing' && order.value.act !== 'expiry')
const proposed = computed(() => proposedGroups(order.value, props.choices))

const asked = computed(() => batchesOf(order.value, props.selection, props.choices))
const { data: effects, error } = useQuery({
  queryKey: keyOf(
    'weigh',
    'batch',
    computed(() => JSON.stringify(asked.value)),
  ),
  queryFn: ({ signal }) =>
    Promise.all(
      asked.value.map((body) => unwrap(client.POST('/api/preview/bulk-change/', { body, signal }))),
    ),
  enabled: () => isReady(order.value),
  placeholderData: keepPreviousData,
  gcTime: 0,
})
const weighed = computed(() => effects.value?.[0])
watch(
  () => (isReady(order.value) ? (weighed.value?.changed ?? 0) : 0),
  (count) => (changed.value = count),
  { immediate: true },
)
const doors = computed(() => {
  const ids = new Set(effects.value?.flatMap((one) => (one.changed ? one.doors : [])))
  return props.choices.doors.filter((one) => ids.has(one.id)).map((one) => one.name)
})
const problems = computed<Problem[]>(() => [
  ...(error.value instanceof Refusal ? error.value.problems : (weighed.value?.problems ?? [])),
  ...props.refused,
])
const at = (field: string | null) => problems.value.filter((one) => one.field === field)
</script>

<template>
  <div class="fields">
    <Field v-if="isChoice" v-slot="{ labelId, invalid }" :label="t('batches.value')" :problems="at('value')">
      <Select
        v-model="order.chosen"
        :options="options"
        option-label="name"
        option-value="id"
        size="small"
        filter
        auto-filter-focus
        :placeholder="isGroup ? t('batches.chooseGroup') : t('batches.chooseOne')"
        :invalid="invalid"
        :aria-labelledby="labelId"
      />
    </Field>
    <CheckLine
      v-if="proposed.length"
      v-model="order.isWithGroups"
      :label="t('batches.withGroups', { names: proposed.map((one) => one.name).join(', ') })"
    />
    <div v-if="order.act === 'add_group'" class="pair">
      <SpanFields v-model:from="order.activation_at" v-model:until="order.expiry_at" :at="at" />
    </div>
    <InstantField
      v-if="order.act === 'expiry' && !order.hasNoEnd"
      v-model="order.instant"
      is-end
      :label="t('batches.value')"
      :empty="dayHint()"
      :problems="at('instant')"
    />
    <CheckLine v-if="order.act === 'expiry'" v-model="order.hasNoEnd" :label="t('common.noEnd')" />
    <template v-if="order.act === 'standing'">
      <Field v-slot="{ labelId }" :label="t('batches.value')">
        <Select
          v-model="order.standing"
          :options="standings"
          option-label="word"
          option-value="value"
          size="small"
          :placeholder="t('batches.chooseOne')"
          :aria-labelledby="labelId"
        />
      </Field>
      <Field
        v-slot="{ id, invalid, describedBy }"
        :label="t('file.standing_reason')"
        :problems="at('reason')"
      >
        <InputText
          :id="id"
          v-model="order.reason"
          size="small"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </template>
  </div>
  <BatchEffect
    v-if="weighed && isReady(order) && !weighed.problems.length"
    :effect="weighed"
    :doors="doors"
    :opens="order.act === 'add_group' || asked.length > 1"
  />
  <p v-for="problem in at(null)" :key="problem.code" class="denied" role="alert">{{ wordsFor(problem) }}</p>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 8px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
