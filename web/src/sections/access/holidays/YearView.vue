<script setup lang="ts">
import { computed } from 'vue'

import { localeTag, t } from '@/words'

import type { Day } from './holidays'
import { daysOfYear } from './year'

/** A year as twelve small months, with its holidays, and the days on which the clocks change. */
const props = defineProps<{ days: Day[]; year: number; zone: string }>()

const holidays = computed(() => daysOfYear(props.days, props.year))
const offset = (at: Date) =>
  new Intl.DateTimeFormat('en', { timeZone: props.zone, timeZoneName: 'longOffset' })
    .formatToParts(at)
    .find((part) => part.type === 'timeZoneName')?.value
const iso = (month: number, day: number) =>
  `${props.year}-${String(month + 1).padStart(2, '0')}-${String(day).padStart(2, '0')}`

const months = computed(() =>
  Array.from({ length: 12 }, (_, month) => {
    const name = monthOf.format(new Date(Date.UTC(1970, month)))
    const count = new Date(Date.UTC(props.year, month + 1, 0)).getUTCDate()
    const lead = (new Date(Date.UTC(props.year, month, 1)).getUTCDay() + 6) % 7
    const days = Array.from({ length: count }, (_, n) => {
      const date = iso(month, n + 1)
      const noon = new Date(`${date}T12:00Z`)
      const holiday = holidays.value[date]
      const changes = offset(noon) !== offset(new Date(noon.valueOf() - 86_400_000))
      const title = [holiday?.name, changes ? t('holidays.clocksChange') : ''].filter(Boolean).join('; ')
      return { number: n + 1, date, holiday, changes, title }
    })
    return { name, lead, days }
  }),
)
const count = computed(() => Object.keys(holidays.value).length)
const told = computed(() => t('holidays.inYear', { count: count.value, year: props.year }, count.value))
const monthOf = new Intl.DateTimeFormat(localeTag(), { month: 'long', timeZone: 'UTC' })
const weekdayOf = new Intl.DateTimeFormat(localeTag(), { weekday: 'narrow', timeZone: 'UTC' })
const weekdays = Array.from({ length: 7 }, (_, n) => weekdayOf.format(new Date(Date.UTC(1970, 0, 5 + n))))
</script>

<template>
  <div class="year" role="img" :aria-label="told">
    <div v-for="month in months" :key="month.name" class="month">
      <b>{{ month.name }}</b>
      <span v-for="(day, n) in weekdays" :key="n" class="weekday">{{ day }}</span>
      <span v-for="n in month.lead" :key="`lead-${n}`"></span>
      <span
        v-for="day in month.days"
        :key="day.date"
        class="day"
        :class="{ holiday: day.holiday, part: day.holiday?.start_minute, changes: day.changes }"
        :title="day.title || undefined"
        >{{ day.number }}</span
      >
    </div>
  </div>
</template>

<style scoped>
.year {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(158px, 1fr));
  gap: 12px 18px;
}
.month {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  align-content: start;
  font-size: 12px;
  text-align: center;
  font-variant-numeric: tabular-nums;
}
.month b {
  grid-column: 1 / -1;
  text-align: left;
}
.weekday {
  color: var(--p-cadrin-quiet);
}
.day {
  padding: 1px 0;
  border-radius: 3px;
}
.holiday {
  background: var(--p-cadrin-night);
  color: #fff;
  font-weight: 650;
}
.part {
  background: linear-gradient(115deg, transparent 50%, var(--p-cadrin-night) 50%);
  color: inherit;
}
.changes {
  box-shadow: inset 0 -2px 0 var(--p-cadrin-teal);
}
</style>
