<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, ref, shallowRef } from 'vue'

import { client, type House, type Problem, Refusal, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import Field from '@/kit/Field.vue'
import InstantField from '@/kit/InstantField.vue'
import { numberWords, t, wordsFor } from '@/words'

import type { Selection } from './selection'

type Batch = components['schemas']['BulkChangeShapeRequest']

/** One act on everybody who is selected: what it will do, to how many, and whom it leaves alone, before it begins. */
const props = defineProps<{ act: Batch['act']; selection: Selection; choices: House }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const queries = useQueryClient()

const STANDINGS = ['active', 'suspended', 'barred', 'departed'] as const
const draft = reactive<Omit<Required<Batch>, keyof Selection>>({
  act: props.act,
  id: null,
  standing: 'suspended',
  instant: null,
  reason: '',
})
const standings = STANDINGS.map((value) => ({ value, word: t(`standings.${value}`) }))
const options = computed(() => {
  const open = <T extends { is_retired: boolean }>(all: T[]) => all.filter((one) => !one.is_retired)
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
const isReady = computed(() => !isGroup.value || draft.id !== null)

const body = computed<Batch>(() => ({ ...props.selection, ...draft }))
const asked = computed(() => JSON.stringify(body.value))
const { data: weighed, error } = useQuery({
  queryKey: ['weigh', 'batch', asked],
  queryFn: ({ signal }) => unwrap(client.POST('/api/preview/bulk-change/', { body: body.value, signal })),
  enabled: isReady,
  placeholderData: keepPreviousData,
  gcTime: 0,
})
const doors = computed(() =>
  props.choices.doors.filter((one) => weighed.value?.doors.includes(one.id)).map((one) => one.name),
)
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
    await unwrap(client.POST('/api/bulk-changes/', { body: body.value }))
    await queries.invalidateQueries({ queryKey: ['batches'] })
    emit('done')
  } catch (failure) {
    refused.value =
      failure instanceof Refusal ? failure.problems : [{ code: 'request.failed', field: null, params: {} }]
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
          v-model="draft.id"
          :options="options"
          option-label="name"
          option-value="id"
          size="small"
          filter
          auto-filter-focus
          :show-clear="!isGroup"
          :placeholder="isGroup ? t('batches.chooseGroup') : t('common.none')"
          :invalid="invalid"
          :aria-labelledby="labelId"
        />
      </Field>
      <InstantField
        v-else-if="act === 'expiry'"
        v-model="draft.instant"
        :label="t('batches.value')"
        :empty="t('common.noEnd')"
        :problems="at('instant')"
      />
      <template v-else>
        <Field v-slot="{ labelId }" :label="t('batches.value')">
          <Select
            v-model="draft.standing"
            :options="standings"
            option-label="word"
            option-value="value"
            size="small"
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
    <div v-if="weighed && isReady && !weighed.problems.length" class="effect" role="status">
      <p>
        <b>{{ t('batches.willChange', { count: numberWords(weighed.changed) }) }}</b>
        {{ t('batches.ofSelected', { count: numberWords(weighed.total) }) }}
      </p>
      <ul>
        <li v-for="one in weighed.left_alone" :key="one.why">
          {{ t(`batches.leftAlone.${one.why}`, { count: numberWords(one.count) }) }}
          <span class="quiet"
            >{{ one.examples.join(', ') }}{{ one.count > one.examples.length ? '…' : '' }}</span
          >
        </li>
        <li v-if="doors.length && weighed.changed">
          {{ t(act === 'add_group' ? 'batches.opens' : 'batches.shuts', { doors: doors.join(', ') }) }}
        </li>
        <li v-if="weighed.records">
          {{ t('batches.records', { count: numberWords(weighed.records) }) }}
        </li>
      </ul>
      <p class="quiet">{{ t('batches.canBeTakenBack') }}</p>
    </div>
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
        :label="t('batches.begin', { count: numberWords(weighed?.changed ?? 0) })"
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
.effect {
  margin-top: 12px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-teal);
  background: var(--p-cadrin-teal-paper);
}
.effect ul {
  margin: 4px 0;
}
</style>
