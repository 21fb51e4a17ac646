<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Select from 'primevue/select'
import { computed } from 'vue'

import type { House, Problem, Schedule } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { litIn, plainWeek } from '@/kit/time/hours'
import { letGo } from '@/kit/controls/let-go'
import LitHours from '@/kit/time/LitHours.vue'
import { places } from '@/sections/setup/queries'
import { t } from '@/words'

import { atPlace, type Grant, placeOf, WAYS } from './granting'
import { placesToGrant } from './grants'
import RemoveRow from './RemoveRow.vue'
import RowsHead from './RowsHead.vue'

/** Doors, or all doors of an area, each with the hours in which it opens. */
const props = defineProps<{
  title: string
  doors: House['doors']
  schedules: Schedule[]
  mayEdit: boolean
  problemsAt?: (field: string) => Problem[]
}>()
const grants = defineModel<Grant[]>({ required: true })
const { data } = useQuery(places)
const choices = computed(() => placesToGrant(props.doors, data.value?.areas ?? []))

function add() {
  const taken = new Set(grants.value.map((one) => one.door))
  const free = props.doors.find((one) => !taken.has(one.id)) ?? props.doors[0]
  const schedule = grants.value.at(-1)?.schedule ?? props.schedules[0]?.id
  if (free && schedule !== undefined) grants.value = [...grants.value, atPlace(`door ${free.id}`, schedule)]
}
function change(row: number, to: Grant) {
  grants.value = grants.value.map((one, place) => (place === row ? to : one))
  letGo()
}
const ways = WAYS.map((value) => ({ value, name: t(`access.ways.${value}`) }))
const hoursOf = (id: number) => props.schedules.find((one) => one.id === id)?.hours ?? []
const problemsOf = (row: number) =>
  props.problemsAt
    ? [...props.problemsAt(`grants.${row}.door`), ...props.problemsAt(`grants.${row}.schedule`)]
    : []
</script>

<template>
  <RowsHead
    :title="title"
    :add="t('access.addDoor')"
    :empty="t('access.noGrants')"
    :is-empty="!grants.length"
    :may-edit="mayEdit"
    @add="add"
  />
  <ul>
    <li v-for="(grant, row) in grants" :key="row">
      <div class="grant stacks-late">
        <Select
          :model-value="placeOf(grant)"
          :options="choices"
          option-label="name"
          option-value="value"
          option-group-label="label"
          option-group-children="items"
          size="small"
          filter
          :disabled="!mayEdit"
          :aria-label="`${t('access.door')} ${row + 1}`"
          @update:model-value="change(row, atPlace($event, grant.schedule, grant.way))"
        />
        <Select
          :model-value="grant.schedule"
          :options="schedules"
          option-label="name"
          option-value="id"
          size="small"
          filter
          :disabled="!mayEdit"
          :aria-label="`${t('access.schedule')} ${row + 1}`"
          @update:model-value="change(row, { ...grant, schedule: $event })"
        />
        <Select
          :model-value="grant.way"
          :options="ways"
          option-label="name"
          option-value="value"
          size="small"
          :disabled="!mayEdit"
          :aria-label="`${t('access.way')} ${row + 1}`"
          @update:model-value="change(row, { ...grant, way: $event })"
        />
        <LitHours :week="plainWeek" :lit="litIn(hoursOf(grant.schedule))" />
        <RemoveRow
          v-if="mayEdit"
          :told="`${t('common.remove')}: ${t('access.door')} ${row + 1}`"
          @remove="grants = grants.filter((_, one) => one !== row)"
        />
      </div>
      <FieldProblem :id="`grant-${row}`" :problems="problemsOf(row)" />
    </li>
  </ul>
</template>

<style scoped>
.grant {
  display: grid;
  grid-template-columns: minmax(0, 190px) minmax(0, 170px) 112px minmax(60px, 1fr) auto;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
</style>
