<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, ref, shallowRef } from 'vue'

import { client, type House, type Problem, Refusal, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import CheckLine from '@/kit/CheckLine.vue'
import Field from '@/kit/Field.vue'
import { dayHint } from '@/kit/days'
import InstantField from '@/kit/InstantField.vue'
import SpanFields from '@/kit/SpanFields.vue'
import { problemsIn } from '@/kit/problems'
import { t, wordsFor } from '@/words'

import BatchEffect from './BatchEffect.vue'
import type { Selection } from './selection'

type Batch = components['schemas']['BulkChangeShapeRequest']

/** One act on everybody who is selected: what it will do, to how many, and whom it leaves alone, before it begins. */
const props = defineProps<{ act: Batch['act']; selection: Selection; choices: House }>()
const emit = defineEmits<{ done: [batches: number[]]; cancel: [] }>()
const queries = useQueryClient()

const STANDINGS = ['active', 'suspended', 'barred', 'departed'] as const
/** What was chosen from the list; `NONE` for nobody's any more. Nothing is done before something is chosen. */
const NONE = 0
const chosen = ref<number | null>(null)
const standing = ref<Batch['standing'] | null>(null)
const hasNoEnd = ref(false)
const draft = reactive<Omit<Required<Batch>, keyof Selection>>({
  act: props.act,
  id: null,
  standing: 'suspended',
  instant: null,
  reason: '',
  activation_at: null,
  expiry_at: null,
})
const standings = STANDINGS.map((value) => ({ value, word: t(`standings.${value}`) }))
const options = computed(() => {
  const open = <T extends { is_retired: boolean }>(all: T[]) => [
    { id: NONE, name: t('common.none') },
    ...all.filter((one) => !one.is_retired),
  ]
  switch (props.act) {
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
const isGroup = computed(() => props.act.endsWith('group'))
const isChoice = computed(() => props.act !== 'standing' && props.act !== 'expiry')
const isReady = computed(() => {
  if (props.act === 'standing') return standing.value !== null
  if (props.act === 'expiry') return hasNoEnd.value || draft.instant !== null
  return chosen.value !== null
})

const body = computed<Batch>(() => ({
  ...props.selection,
  ...draft,
  id: chosen.value || null,
  standing: standing.value ?? draft.standing,
  instant: hasNoEnd.value ? null : draft.instant,
}))
/** The groups that the department proposes: given in the same act, if wished. */
const proposed = computed(() => {
  const department = props.choices.departments.find((one) => one.id === chosen.value)
  const ids = props.act === 'department' ? (department?.proposed_groups ?? []) : []
  return props.choices.groups.filter((one) => ids.includes(one.id))
})
const isWithGroups = ref(true)
/** Everything that is begun together: the act itself, and after it a group each. */
const orders = computed<Batch[]>(() => [
  body.value,
  ...(isWithGroups.value ? proposed.value : []).map(({ id }) => ({
    ...body.value,
    act: 'add_group' as const,
    id,
  })),
])
const asked = computed(() => JSON.stringify(orders.value))
const { data: effects, error } = useQuery({
  queryKey: ['weigh', 'batch', asked],
  queryFn: ({ signal }) =>
    Promise.all(
      orders.value.map((order) => unwrap(client.POST('/api/preview/bulk-change/', { body: order, signal }))),
    ),
  enabled: isReady,
  placeholderData: keepPreviousData,
  gcTime: 0,
})
const weighed = computed(() => effects.value?.[0])
const doors = computed(() => {
  const ids = new Set(effects.value?.flatMap((one) => (one.changed ? one.doors : [])))
  return props.choices.doors.filter((one) => ids.has(one.id)).map((one) => one.name)
})
const refused = shallowRef<Problem[]>([])
const problems = computed<Problem[]>(() => [
  ...(error.value instanceof Refusal ? error.value.problems : (weighed.value?.problems ?? [])),
  ...refused.value,
])
const at = (field: string | null) => problems.value.filter((one) => one.field === field)

const isBusy = ref(false)
async function begin() {
  isBusy.value = true
  try {
    const begun = []
    for (const order of orders.value)
      begun.push(await unwrap(client.POST('/api/bulk-changes/', { body: order })))
    await queries.invalidateQueries({ queryKey: ['batches'] })
    emit(
      'done',
      begun.map((one) => one.id),
    )
  } catch (failure) {
    refused.value = problemsIn(failure)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t(`batches.acts.${act}`)"
    :style="{ width: '520px' }"
    @update:visible="emit('cancel')"
  >
    <div class="fields">
      <Field
        v-if="isChoice"
        v-slot="{ labelId, invalid }"
        :label="t('batches.value')"
        :problems="at('value')"
      >
        <Select
          v-model="chosen"
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
        v-model="isWithGroups"
        :label="t('batches.withGroups', { names: proposed.map((one) => one.name).join(', ') })"
      />
      <div v-if="act === 'add_group'" class="pair">
        <SpanFields v-model:from="draft.activation_at" v-model:until="draft.expiry_at" :at="at" />
      </div>
      <InstantField
        v-if="act === 'expiry' && !hasNoEnd"
        v-model="draft.instant"
        is-end
        :label="t('batches.value')"
        :empty="dayHint()"
        :problems="at('instant')"
      />
      <CheckLine v-if="act === 'expiry'" v-model="hasNoEnd" :label="t('common.noEnd')" />
      <template v-if="act === 'standing'">
        <Field v-slot="{ labelId }" :label="t('batches.value')">
          <Select
            v-model="standing"
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
            v-model="draft.reason"
            size="small"
            :invalid="invalid"
            :aria-describedby="describedBy"
          />
        </Field>
      </template>
    </div>
    <BatchEffect
      v-if="weighed && isReady && !weighed.problems.length"
      :effect="weighed"
      :doors="doors"
      :opens="act === 'add_group' || orders.length > 1"
    />
    <p v-for="problem in at(null)" :key="problem.code" class="denied" role="alert">{{ wordsFor(problem) }}</p>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('cancel')"
      />
      <Button
        size="small"
        :label="t('batches.begin', { count: weighed?.changed ?? 0 })"
        :loading="isBusy"
        :disabled="!isReady || !weighed?.changed"
        @click="begin"
      />
    </template>
  </Dialog>
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
