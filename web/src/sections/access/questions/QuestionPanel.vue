<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import MultiSelect from 'primevue/multiselect'
import { computed, reactive } from 'vue'

import type { House } from '@/api/client'
import Field from '@/kit/Field.vue'
import InstantField from '@/kit/InstantField.vue'
import NumberField from '@/kit/NumberField.vue'
import PersonField from '@/kit/PersonField.vue'
import SelectField from '@/kit/SelectField.vue'
import { useSession } from '@/kit/session'
import { places as allPlaces } from '@/sections/setup/queries'
import { t } from '@/words'

import AnswerTable from './AnswerTable.vue'
import { answered, type Asked, columnsOf, parametersOf, type Question } from './questions'

/** One question: what is asked, and its answer as soon as enough is said. */
const props = defineProps<{ question: Question; doors: House['doors'] }>()
const mayExport = useSession().may('export')
const { data: places } = useQuery(allPlaces)

const asked = reactive<Asked>({
  door: props.doors[0]?.id ?? null,
  doors: [],
  days: 90,
  cardholder: null,
  other: null,
  area: null,
  at: null,
})
const areas = computed(() => (places.value?.areas ?? []).map((one) => ({ value: one.id, word: one.name })))
function chooseAllOf(area: number | null) {
  const those = places.value?.doors.filter((one) => one.area_id === area || one.from_area_id === area) ?? []
  asked.doors = those.map((one) => one.id)
}

const parameters = computed(() => parametersOf(props.question, asked))
const { data, isError, isFetching } = useQuery({
  queryKey: ['questions', () => props.question, parameters],
  queryFn: ({ signal }) => answered(props.question, parameters.value ?? {}, signal),
  enabled: computed(() => parameters.value !== null),
  placeholderData: keepPreviousData,
})
const answer = computed(() => (parameters.value === null ? undefined : data.value))
const columns = computed(() => columnsOf(props.question, answer.value?.lines ?? []))
const file = computed(() => {
  const query = new URLSearchParams({ csv: 'true' })
  for (const [name, value] of Object.entries(parameters.value ?? {})) query.set(name, String(value))
  return `/api/questions/${props.question}/?${query.toString()}`
})
const emptyWords = computed(() => {
  if (!answer.value?.has_way) return t('questions.noWay')
  return t(
    { way: 'questions.there', compare: 'questions.alike' }[props.question as 'way'] ?? 'questions.nobody',
  )
})
const isPast = computed(() => asked.at !== null && Date.parse(asked.at) < Date.now())
</script>

<template>
  <div>
    <h1>{{ t(`questions.${question}`) }}</h1>
    <div class="asked">
      <SelectField
        v-if="question === 'door'"
        v-model="asked.door"
        :label="t('access.door')"
        :options="doors"
        option-label="name"
        option-value="id"
        filter
      />
      <template v-if="question === 'unused'">
        <Field v-slot="{ labelId }" :label="t('questions.doors')">
          <MultiSelect
            v-model="asked.doors"
            :options="doors"
            option-label="name"
            option-value="id"
            size="small"
            filter
            :aria-labelledby="labelId"
          />
        </Field>
        <SelectField
          :model-value="null"
          :label="t('questions.ofArea')"
          :options="areas"
          filter
          @update:model-value="chooseAllOf"
        />
        <NumberField v-model="asked.days" :label="t('questions.days')" :min="1" :max="3650" />
      </template>
      <PersonField
        v-if="question === 'way' || question === 'compare'"
        v-model="asked.cardholder"
        :label="t(question === 'way' ? 'questions.person' : 'questions.one')"
      />
      <PersonField v-if="question === 'compare'" v-model="asked.other" :label="t('questions.other')" />
      <SelectField
        v-if="question === 'way'"
        v-model="asked.area"
        :label="t('questions.area')"
        :options="areas"
        filter
      />
      <InstantField
        v-if="question === 'door' || question === 'way' || question === 'compare'"
        v-model="asked.at"
        :label="t('questions.at')"
        :empty="t('questions.now')"
      />
    </div>
    <p v-if="isPast" class="quiet">{{ t('questions.past') }}</p>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-else-if="answer">
      <div class="row told">
        <h2 role="status">{{ t('questions.answers', answer.total) }}</h2>
        <a v-if="mayExport && answer.total" :href="file" download>{{ t('questions.export') }}</a>
        <span v-if="answer.total > answer.lines.length" class="quiet">
          {{ t('questions.first', { count: answer.lines.length }) }}
        </span>
      </div>
      <p v-if="!answer.total" class="quiet">{{ emptyWords }}</p>
      <AnswerTable v-else :lines="answer.lines" :columns="columns" :class="{ quiet: isFetching }" />
    </template>
  </div>
</template>

<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 12px;
  margin: 12px 0;
}
.asked > * {
  min-width: 220px;
}
.told {
  margin-top: 14px;
}
</style>
