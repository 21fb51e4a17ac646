<script setup lang="ts">
import Button from 'primevue/button'
import { computed, reactive } from 'vue'

import type { House } from '@/api/client'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import { type Choices, type Intake, type IntakeRow, useTheIntake } from './intake'

/** The cells of one row, to be mended in place; whom it is about; or leave it out. */
const props = defineProps<{
  row: IntakeRow
  headings: { column: number; heading: string; target: string }[]
  intake: Intake
  house: House
}>()
const emit = defineEmits<{ done: [] }>()
const { decide } = useTheIntake()

const textAt = (column: number) =>
  props.row.mended.find((one) => one.column === column)?.text ?? props.row.cells[column] ?? ''
const edited = reactive<Record<number, string>>(
  Object.fromEntries(props.headings.map(({ column }) => [column, textAt(column)])),
)
const taken = computed(() => props.headings.filter((one) => one.target && one.target !== 'pin'))
const faultsAt = (column: number) =>
  props.row.faults.filter((one) => one.column === column).map((one) => one.problem)
const mayBe = computed(() => props.row.faults.find((one) => one.problem.code === 'intake.may_be')?.problem)
const isOut = computed(() => props.intake.choices.left_out.includes(props.row.row))

async function change(act: (choices: Choices) => void) {
  if (await decide(act)) emit('done')
}
const save = () =>
  change((choices) => {
    const others = choices.cells.filter((one) => one.row !== props.row.row)
    const mine = props.headings
      .filter(
        ({ column }) =>
          (edited[column] ?? '') !== (props.row.cells[column] ?? '') && edited[column] !== '•••',
      )
      .map(({ column }) => ({ row: props.row.row, column, text: edited[column] ?? '' }))
    // what was replaced for all its like is no matter of this row alone
    const replaced = new Map(props.row.mended.map((one) => [one.column, one.text]))
    const kept = choices.cells.filter((one) => one.row === props.row.row)
    choices.cells = [
      ...others,
      ...mine.filter(
        (one) => replaced.get(one.column) !== one.text || kept.some((cell) => cell.column === one.column),
      ),
    ]
  })
const sameAs = (cardholder: number) =>
  change((choices) => {
    const row = props.row.row
    choices.same_as = [...choices.same_as.filter((one) => one.row !== row), { row, cardholder }]
  })
const leaveOut = (isLeft: boolean) =>
  change((choices) => {
    const others = choices.left_out.filter((one) => one !== props.row.row)
    choices.left_out = isLeft ? [...others, props.row.row] : others
  })
</script>

<template>
  <form @submit.prevent="save">
    <div class="fields">
      <TextField
        v-for="one in taken"
        :key="one.column"
        v-model="edited[one.column]!"
        :label="one.heading"
        :problems="faultsAt(one.column)"
      />
    </div>
    <div class="row">
      <Button type="submit" size="small" :label="t('intake.mendRow')" />
      <template v-if="mayBe">
        <Button
          size="small"
          severity="secondary"
          :label="t('intake.itIs', { name: mayBe.params.name })"
          @click="sameAs(Number(mayBe.params.id))"
        />
        <Button size="small" severity="secondary" :label="t('intake.somebodyElse')" @click="sameAs(0)" />
      </template>
      <Button
        size="small"
        severity="secondary"
        :label="isOut ? t('intake.takeIn') : t('intake.leaveThisOut')"
        @click="leaveOut(!isOut)"
      />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('done')"
      />
    </div>
  </form>
</template>

<style scoped>
/* it stays in view however far the table is scrolled to the right */
form {
  position: sticky;
  left: 10px;
  width: 500px;
  padding: 4px 0 8px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px 10px;
  margin-bottom: 8px;
}
.row {
  flex-wrap: wrap;
}
</style>
