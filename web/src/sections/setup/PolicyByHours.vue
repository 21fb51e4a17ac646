<script setup lang="ts">
import Button from 'primevue/button'

import type { House, Problem, Schedule } from '@/api/client'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import PolicyField from './PolicyField.vue'

/** What a reader asks for instead while a schedule is open; the first that is open counts. */
type ByHours = House['readers'][number]['by_hours']
const props = defineProps<{
  schedules: Schedule[]
  hasCamera: boolean
  hasFingerScanner: boolean
  hasFaceReader: boolean
  problems?: Problem[]
}>()
const byHours = defineModel<ByHours>({ required: true })

function add() {
  const first = props.schedules[0]
  if (first) byHours.value = [...byHours.value, { schedule: first.id, policy: [['card']] }]
}
const remove = (place: number) => (byHours.value = byHours.value.filter((_, at) => at !== place))
</script>

<template>
  <div class="hours">
    <div v-for="(hours, place) in byHours" :key="place" class="line">
      <SelectField
        v-model="hours.schedule"
        class="schedule"
        option-label="name"
        option-value="id"
        :label="t('readersSetup.while')"
        :options="schedules"
        :problems="problems"
      />
      <PolicyField
        v-model="hours.policy"
        :label="t('readersSetup.asks')"
        :has-camera="hasCamera"
        :has-finger-scanner="hasFingerScanner"
        :has-face-reader="hasFaceReader"
      />
      <Button
        class="remove"
        text
        size="small"
        :label="t('readersSetup.removeHours')"
        @click="remove(place)"
      />
    </div>
    <Button v-if="schedules.length" text size="small" :label="t('readersSetup.addHours')" @click="add" />
  </div>
</template>

<style scoped>
.hours {
  width: 100%;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 16px;
  padding-left: 10px;
  border-left: 3px solid var(--p-cadrin-teal);
}
.schedule {
  width: 180px;
}
.remove {
  margin-top: 18px;
}
</style>
