<script setup lang="ts">
import type { components } from '@/api/schema'
import { dayWords } from '@/kit/time/clock'
import { numberWords, t } from '@/words'

/** Who would gain and lose which hours. */
defineProps<{
  effects: components['schemas']['HoursPreviewShape']
  scheduleName: (id: number) => string
}>()
const hours = (minutes: number) => numberWords(Math.round(minutes / 6) / 10)
</script>

<template>
  <section class="effects" :aria-label="t('holidays.effects')" aria-live="polite">
    <h3>{{ t('holidays.effects') }}</h3>
    <p v-if="!effects.schedules.length" class="quiet">{{ t('holidays.noEffects') }}</p>
    <template v-else>
      <p>
        {{
          t('holidays.whom', {
            groups: effects.groups.join(', ') || t('common.none'),
            doors: effects.doors,
            people: effects.people,
          })
        }}
      </p>
      <p v-if="effects.places.length">{{ t('holidays.places', { names: effects.places.join(', ') }) }}</p>
      <div v-for="one in effects.schedules" :key="one.schedule">
        <p>
          <b>{{ scheduleName(one.schedule) }}</b>
          {{ t('holidays.ofYear', { days: one.day_count }, one.day_count) }}
          <span v-if="one.gained_minutes" class="gained"
            >+{{ hours(one.gained_minutes) }} {{ t('holidays.hoursShort') }}</span
          >
          <span v-if="one.lost_minutes" class="lost"
            >−{{ hours(one.lost_minutes) }} {{ t('holidays.hoursShort') }}</span
          >
        </p>
        <ul>
          <li v-for="day in one.days" :key="day.day">
            {{ dayWords(`${day.day}T12:00:00Z`) }}
            <span v-if="day.gained_minutes" class="gained">+{{ hours(day.gained_minutes) }}</span>
            <span v-if="day.lost_minutes" class="lost">−{{ hours(day.lost_minutes) }}</span>
          </li>
        </ul>
      </div>
    </template>
  </section>
</template>

<style scoped>
.effects {
  margin-top: 14px;
  padding: 10px 12px;
  background: var(--p-cadrin-sheet);
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 4px;
}
ul {
  columns: 3;
  font-size: 13px;
}
.gained {
  color: var(--p-cadrin-teal);
}
.lost {
  color: var(--p-cadrin-brick);
}
</style>
