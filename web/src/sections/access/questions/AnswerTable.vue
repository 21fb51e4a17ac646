<script setup lang="ts">
import { whenWords } from '@/kit/time/clock'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import type { Listed } from './asked'
import type { AnswerColumn, AnswerLine } from './questions'

/** The lines of an answer, with people and doors leading to their pages. */
const props = defineProps<{ question: Listed; lines: AnswerLine[]; columns: AnswerColumn[] }>()

const OF_INSTANTS = ['reason', 'other_reason', 'hours', 'other_hours'] as const
type OfInstants = (typeof OF_INSTANTS)[number]
const isOfInstants = (column: AnswerColumn): column is OfInstants =>
  props.question === 'instants' && (OF_INSTANTS as readonly AnswerColumn[]).includes(column)
const heading = (column: AnswerColumn) =>
  isOfInstants(column) ? t(`questions.columnsOfInstants.${column}`) : t(`questions.columns.${column}`)

const isReason = (column: AnswerColumn): column is 'reason' | 'other_reason' =>
  column === 'reason' || column === 'other_reason'
function words(line: AnswerLine, column: AnswerColumn): string {
  if (column === 'last_at') return line.last_at ? whenWords(line.last_at) : t('questions.never')
  const value = line[column]
  return value === null ? '' : String(value)
}
function markOf(line: AnswerLine, column: 'reason' | 'other_reason') {
  const reason = line[column]
  if (!reason) return null
  return {
    shape: reason === 'granted' ? ('disc' as const) : ('cross' as const),
    word: t(`reasons.${reason}`),
  }
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th v-for="column in columns" :key="column" scope="col">{{ heading(column) }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(line, place) in lines" :key="place">
        <td v-for="column in columns" :key="column">
          <RouterLink
            v-if="column === 'name' && line.cardholder_id"
            :to="{ name: 'cardholder', params: { id: line.cardholder_id } }"
            >{{ line.name }}</RouterLink
          >
          <RouterLink
            v-else-if="column === 'door' && line.door_id"
            :to="{ name: 'access', params: { part: 'doors', id: String(line.door_id) } }"
            >{{ line.is_way_out ? t('questions.wayOut', { door: line.door }) : line.door }}</RouterLink
          >
          <template v-else-if="isReason(column)">
            <StateMark v-if="markOf(line, column)" v-bind="markOf(line, column)!" />
          </template>
          <span v-else :class="{ mono: column === 'number' }">{{ words(line, column) }}</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 4px 12px 4px 0;
  text-align: left;
  font-weight: 650;
  white-space: nowrap;
}
td :deep(.mark) {
  font-size: 13px;
  white-space: normal;
}
td a {
  white-space: nowrap;
}
td {
  padding: 4px 12px 4px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>
