<script setup lang="ts">
import { computed } from 'vue'

import type { House } from '@/api/client'
import StateMark, { type Shape } from '@/kit/controls/StateMark.vue'
import { t, wordsFor } from '@/words'

import type { Intake, IntakeRow } from './intake'
import RowEditor from './RowEditor.vue'
import { fieldWord, valueWord } from './words'

/** A row: what each cell said, what it is taken for where that differs, and what stands against it. */
const props = defineProps<{
  row: IntakeRow
  headings: { column: number; heading: string; target: string }[]
  intake: Intake
  house: House
  isOpen: boolean
}>()
const emit = defineEmits<{ open: [] }>()

const SHAPES: Record<string, Shape> = {
  new: 'disc',
  changed: 'half',
  same: 'dash',
  faulty: 'cross',
  left_out: 'dash',
  missing: 'bar',
}
const shape = computed<Shape>(() => SHAPES[props.row.state] ?? 'ring')
const stateWord = computed(() =>
  props.row.state ? t(`intake.rowStates.${props.row.state}`) : t('intake.notYet'),
)
const cells = computed(() =>
  props.headings.map(({ column, target }) => {
    const text = (of: { column: number; text: string }[]) => of.find((one) => one.column === column)?.text
    const said = props.row.cells[column] ?? ''
    const mended = text(props.row.mended)
    return {
      column,
      said,
      became: text(props.row.became) ?? mended,
      isEmptied: mended === '' && said !== '',
      faults: props.row.faults.filter((one) => one.column === column).map((one) => wordsFor(one.problem)),
      isTaken: target !== '',
    }
  }),
)
const ofRow = computed(() =>
  props.row.faults.filter((one) => one.column < 0).map((one) => wordsFor(one.problem)),
)
const changes = computed(() => [
  ...props.row.changes.map((one) => {
    const [before, after] = [one.before, one.after].map((text) => valueWord(one.field, text, props.house))
    return `${fieldWord(one.field, props.house)}: ${before} → ${after}`
  }),
  ...props.row.parts.map((part) => fieldWord(part, props.house)),
])
const isEditable = computed(() => props.intake.state === 'open' && props.row.row > 0)
</script>

<template>
  <tr :class="{ out: row.state === 'left_out', open: isOpen }">
    <td class="number">
      <button
        v-if="isEditable"
        type="button"
        class="plain mono"
        :aria-expanded="isOpen"
        :aria-label="t('intake.editRow', { row: row.row })"
        @click="emit('open')"
      >
        {{ row.row }}
      </button>
      <span v-else class="mono">{{ row.row || '' }}</span>
    </td>
    <td class="comes">
      <RouterLink
        v-if="row.cardholder_id && row.state !== 'faulty' && intake.state !== 'undone'"
        :to="{ name: 'cardholder', params: { id: row.cardholder_id } }"
      >
        <StateMark :shape="shape" :word="stateWord" />
      </RouterLink>
      <StateMark v-else :shape="shape" :word="stateWord" />
      <span v-if="!row.row" class="what">{{ row.name }}</span>
      <span v-for="one in ofRow" :key="one" class="what denied">{{ one }}</span>
      <span v-for="one in changes" :key="one" class="what quiet">{{ one }}</span>
      <span v-if="row.cards.length" class="what quiet mono">{{ row.cards.join(', ') }}</span>
    </td>
    <td
      v-for="cell in cells"
      :key="cell.column"
      :class="{ faulty: cell.faults.length, untaken: !cell.isTaken }"
    >
      <span
        class="said"
        :class="{ struck: cell.became !== undefined || cell.isEmptied }"
        :title="cell.said"
        >{{ cell.said }}</span
      >
      <span v-if="cell.became" class="became">{{ cell.became }}</span>
      <template v-if="cell.faults.length">
        <button
          v-if="isEditable"
          type="button"
          class="plain denied why one-line"
          :title="cell.faults.join(' ')"
          @click="emit('open')"
        >
          {{ cell.faults.join(' ') }}
        </button>
        <span v-else class="denied why one-line" :title="cell.faults.join(' ')">{{
          cell.faults.join(' ')
        }}</span>
      </template>
    </td>
  </tr>
  <tr v-if="isOpen && isEditable">
    <td :colspan="headings.length + 2" class="editor">
      <RowEditor :row="row" :headings="headings" :intake="intake" :house="house" @done="emit('open')" />
    </td>
  </tr>
</template>

<style scoped>
td {
  max-width: 190px;
  padding: 4px 10px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
  vertical-align: top;
}
.number {
  text-align: right;
}
.comes {
  min-width: 120px;
  max-width: 230px;
}
.what {
  display: block;
  font-size: 13px;
  line-height: 1.3;
}
.said,
.became {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.struck {
  color: var(--p-cadrin-quiet);
  text-decoration: line-through;
}
.untaken .said {
  color: var(--p-cadrin-quiet);
}
.became {
  color: var(--p-cadrin-teal);
}
.faulty {
  box-shadow: inset 2px 0 0 var(--p-cadrin-brick);
}
.why {
  display: block;
  font-size: 12px;
  line-height: 1.25;
}
.plain {
  max-width: 100%;
  padding: 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
.plain.denied {
  color: var(--p-cadrin-brick);
  text-decoration: none;
}
.out .said {
  color: var(--p-cadrin-quiet);
  text-decoration: line-through;
}
.open td {
  background: var(--p-cadrin-teal-paper);
}
.editor {
  max-width: none;
  background: var(--p-cadrin-teal-paper);
}
</style>
