<script setup lang="ts">
import Select from 'primevue/select'

import type { GroupDraft, House, Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { letGo } from '@/kit/controls/let-go'
import { t } from '@/words'

import RemoveRow from './RemoveRow.vue'
import RowsHead from './RowsHead.vue'

/** Who is in a group by what they are: each line is one rule, and all that it names must fit. */
type Rule = NonNullable<GroupDraft['rules']>[number]
const props = defineProps<{
  choices: House
  mayEdit: boolean
  problemsAt: (field: string) => Problem[]
}>()
const rules = defineModel<Rule[]>({ required: true })

const FIELDS = ['department', 'kind', 'company'] as const
const listOf = (field: (typeof FIELDS)[number]) =>
  ({ department: props.choices.departments, kind: props.choices.kinds, company: props.choices.companies })[
    field
  ].filter((one) => !one.is_retired)
function change(row: number, field: (typeof FIELDS)[number], id: number | null) {
  rules.value = rules.value.map((one, place) => (place === row ? { ...one, [field]: id } : one))
  letGo()
}
const add = () => (rules.value = [...rules.value, { department: null, kind: null, company: null }])
</script>

<template>
  <RowsHead
    :title="t('groupRules.title')"
    :add="t('groupRules.add')"
    :empty="t('groupRules.none')"
    :is-empty="!rules.length"
    :may-edit="mayEdit"
    @add="add"
  />
  <ul>
    <li v-for="(rule, row) in rules" :key="row">
      <div class="rule stacks-late">
        <Select
          v-for="field in FIELDS"
          :key="field"
          :model-value="rule[field]"
          :options="listOf(field)"
          option-label="name"
          option-value="id"
          size="small"
          filter
          show-clear
          :placeholder="t(`groupRules.any.${field}`)"
          :disabled="!mayEdit"
          :aria-label="t('groupRules.of', { what: t(`groupRules.fields.${field}`), place: row + 1 })"
          @update:model-value="change(row, field, $event ?? null)"
        />
        <RemoveRow
          v-if="mayEdit"
          :told="t('groupRules.remove', { place: row + 1 })"
          @remove="rules = rules.filter((_, one) => one !== row)"
        />
      </div>
      <FieldProblem
        :id="`rule-${row}`"
        :problems="FIELDS.flatMap((field) => problemsAt(`groupRules.${row}.${field}`))"
      />
    </li>
  </ul>
</template>

<style scoped>
.rule {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 220px)) auto;
  justify-content: start;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
</style>
