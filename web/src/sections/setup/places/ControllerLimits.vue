<script setup lang="ts">
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import CheckLine from '@/kit/controls/CheckLine.vue'
import DayField from '@/kit/time/DayField.vue'
import NumberField from '@/kit/controls/NumberField.vue'
import { t } from '@/words'

import type { Controller } from './places'

/** What somebody knows that a controller can hold, where it does not tell all of it. */
defineProps<{ at: (field: string) => Problem[] }>()
const limits = defineModel<Controller['limits']>({ required: true })
const knowsOneGroup = defineModel<boolean>('knowsOneGroup', { required: true })

const A_DAY = 86_400
const put = (more: Partial<Controller['limits']>) => (limits.value = { ...limits.value, ...more })
/** The last second that a calendar knows, as the day in which it lies. */
const lastDay = computed({
  get: () =>
    limits.value.latest == null ? null : new Date(limits.value.latest * 1000).toISOString().slice(0, 10),
  set: (day) => put({ latest: day === null ? null : Date.parse(`${day}T23:59:59Z`) / 1000 }),
})
const days = computed({
  get: () => (limits.value.longest_span == null ? null : Math.floor(limits.value.longest_span / A_DAY)),
  set: (count) => put({ longest_span: count === null ? null : count * A_DAY }),
})
const COUNTS = [
  ['capacity', 'places.capacity'],
  ['most_cards', 'places.mostCards'],
  ['most_memberships', 'places.mostMemberships'],
  ['most_schedules', 'places.mostSchedules'],
  ['longest_name', 'places.longestName'],
  ['most_templates', 'places.mostTemplates'],
] as const
</script>

<template>
  <fieldset>
    <legend>{{ t('places.limits') }}</legend>
    <p class="quiet">{{ t('places.limitsHint') }}</p>
    <div class="fields">
      <NumberField
        v-for="[name, word] in COUNTS"
        :key="name"
        :model-value="limits[name] ?? null"
        :label="t(word)"
        :min="0"
        :problems="at(`limits.${name}`)"
        @update:model-value="put({ [name]: $event })"
      />
      <DayField v-model="lastDay" :label="t('places.latest')" :problems="at('limits.latest')" />
      <NumberField
        v-model="days"
        :label="t('places.longestDays')"
        :min="0"
        :problems="at('limits.longest_span')"
      />
    </div>
    <CheckLine v-model="knowsOneGroup" :label="t('places.knowsOneGroup')" />
  </fieldset>
</template>

<style scoped>
fieldset {
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  padding: 0;
  font-weight: 650;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px 12px;
  margin-top: 6px;
}
</style>
