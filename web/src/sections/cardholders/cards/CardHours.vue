<script setup lang="ts">
import InputText from 'primevue/inputtext'
import ToggleButton from 'primevue/togglebutton'
import { computed, ref } from 'vue'

import type { Problem } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import { dayHours, dayText, exampleHours, type Hours } from '@/kit/time/hours'
import { t, weekdays as weekdayNames } from '@/words'

/** Hours of a card's own: the days it works on, and from when to when; none are any time. */
defineProps<{ problems: Problem[] }>()
const hours = defineModel<Hours>({ required: true })
const weekdays = weekdayNames().map((name) => name.slice(0, 2))

const days = computed(() => [...new Set(hours.value.map(([day = 0]) => day))].sort())
const text = ref(days.value.length ? dayText(hours.value, days.value[0] ?? 0) : '')
/** Set over the interface of programs, hours may be another on each day: then they are shown, not edited. */
const differ = computed(() => new Set(days.value.map((day) => dayText(hours.value, day))).size > 1)
const isUnreadable = computed(() => dayHours(text.value, 0) === null)

function put(chosen: number[]) {
  hours.value = chosen.flatMap((day) => dayHours(text.value, day) ?? [])
}
function turn(day: number, isOn: boolean) {
  if (!text.value.trim()) text.value = dayText([[0, 480, 1080]], 0)
  put(isOn ? [...days.value, day].sort() : days.value.filter((one) => one !== day))
}
function typed() {
  if (!isUnreadable.value) put(days.value.length ? days.value : [0, 1, 2, 3, 4, 5, 6])
}
</script>

<template>
  <Field
    v-slot="{ id, labelId, describedBy }"
    :label="t('cardTerms.hours')"
    :problems="
      isUnreadable ? [{ code: 'hours.not_readable', field: null, params: exampleHours() }] : problems
    "
  >
    <p v-if="differ">
      <template v-for="day in days" :key="day">{{ weekdays[day] }} {{ dayText(hours, day) }}; </template>
    </p>
    <div v-else class="hours" role="group" :aria-labelledby="labelId">
      <InputText
        :id="id"
        v-model="text"
        size="small"
        class="mono text"
        :placeholder="t('cardTerms.anyTime')"
        :aria-describedby="describedBy"
        @change="typed"
      />
      <ToggleButton
        v-for="(name, day) in weekdays"
        :key="day"
        :model-value="days.includes(day)"
        size="small"
        class="day"
        :on-label="name"
        :off-label="name"
        @update:model-value="turn(day, $event)"
      />
    </div>
  </Field>
</template>

<style scoped>
.hours {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.text {
  width: 11em;
}
.day {
  padding: 0;
  min-width: 38px;
}
</style>
