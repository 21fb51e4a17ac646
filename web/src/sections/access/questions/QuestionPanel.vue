<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { type House, Refusal } from '@/api/client'
import { keyOf } from '@/api/keys'
import { groups as allGroups } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import InstantField from '@/kit/time/InstantField.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import PersonField from '@/kit/controls/PersonField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { useSession } from '@/kit/state/session'
import { places as allPlaces } from '@/sections/setup/queries'
import { byName, t } from '@/words'

import AnswerTable from './AnswerTable.vue'
import AsNow from './AsNow.vue'
import { type Asked, asQuery, fromQuery, hasInstant, type Listed, parametersOf } from './asked'
import KeptQuestions from './KeptQuestions.vue'
import { answered, columnsOf } from './questions'

/** One question: what is asked, and its answer as soon as enough is said. What is asked stands in the address. */
const props = defineProps<{ question: Listed; doors: House['doors'] }>()
const mayExport = useSession().may('export')
const { data: places } = useQuery(allPlaces)

const { data: groups } = useQuery({ ...allGroups, enabled: () => props.question === 'group' })

const route = useRoute()
const router = useRouter()
const asked = reactive<Asked>(fromQuery(route.query))
asked.door ??= props.doors[0]?.id ?? null
const query = computed(() => asQuery(asked))
watch(query, (now) => router.replace({ query: now }))
watch(
  () => route.query,
  (now) => {
    const told = fromQuery(now)
    const isAnother = JSON.stringify(asQuery(told)) !== JSON.stringify(query.value)
    if (isAnother && route.params.id === props.question) Object.assign(asked, told)
  },
)

const areas = computed(() => (places.value?.areas ?? []).map((one) => ({ value: one.id, word: one.name })))
function chooseAllOf(area: number | null) {
  const those = places.value?.doors.filter((one) => one.area_id === area || one.from_area_id === area) ?? []
  asked.doors = those.map((one) => one.id)
}

const parameters = computed(() => parametersOf(props.question, asked))
const { data, error, isFetching } = useQuery({
  queryKey: keyOf('questions', () => props.question, parameters),
  queryFn: ({ signal }) => answered(props.question, parameters.value ?? {}, signal),
  enabled: computed(() => parameters.value !== null),
  placeholderData: keepPreviousData,
  retry: false,
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
  const words = {
    way: 'questions.there',
    compare: 'questions.alike',
    instants: 'questions.unchanged',
    person: 'questions.nothing',
    group: 'questions.nothing',
  } as const
  return t(words[props.question as keyof typeof words] ?? 'questions.nobody')
})
const problems = computed(() => (error.value instanceof Refusal ? error.value.problems : []))
const isPast = computed(() =>
  [asked.at, asked.otherAt].some((one) => one !== null && Date.parse(one) < Date.now()),
)
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
        v-if="['way', 'compare', 'person', 'instants'].includes(question)"
        v-model="asked.cardholder"
        :label="t(question === 'compare' ? 'questions.one' : 'questions.ofPerson')"
      />
      <PersonField v-if="question === 'compare'" v-model="asked.other" :label="t('questions.other')" />
      <SelectField
        v-if="question === 'group'"
        v-model="asked.group"
        :label="t('questions.ofGroup')"
        :options="byName(groups ?? [], (one) => one.name)"
        option-label="name"
        option-value="id"
        filter
      />
      <SelectField
        v-if="question === 'way' || question === 'area'"
        v-model="asked.area"
        :label="t('questions.intoArea')"
        :options="areas"
        filter
      />
      <InstantField
        v-if="hasInstant(question)"
        v-model="asked.at"
        :label="t('questions.at')"
        :empty="t('questions.now')"
        :problems="problems.filter((one) => one.field === 'at')"
      />
      <InstantField
        v-if="question === 'instants'"
        v-model="asked.otherAt"
        :label="t('questions.otherAt')"
        :empty="t('questions.now')"
      />
    </div>
    <KeptQuestions :question="question" :asked="query" :may-keep="parameters !== null" />
    <p v-if="isPast" class="quiet">{{ t('questions.past') }}</p>
    <AsNow :what="answer?.as_now ?? []" />
    <FieldProblem id="question-problem" :problems="problems.filter((one) => one.field !== 'at')" />
    <p v-if="error && !problems.length" class="denied">{{ t('common.failed') }}</p>
    <template v-else-if="answer && !error">
      <div class="row told">
        <h2 role="status">{{ t('questions.answers', answer.total) }}</h2>
        <a v-if="mayExport && answer.total" :href="file" download>{{ t('questions.export') }}</a>
        <span v-if="answer.total > answer.lines.length" class="quiet">
          {{ t('questions.first', { count: answer.lines.length }) }}
        </span>
      </div>
      <p v-if="!answer.total" class="quiet">{{ emptyWords }}</p>
      <AnswerTable
        v-else
        :question="question"
        :lines="answer.lines"
        :columns="columns"
        :class="{ quiet: isFetching }"
      />
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
