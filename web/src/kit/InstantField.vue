<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'

import type { Problem } from '@/api/client'
import { t } from '@/words'

import { wallOf } from './clock'
import Field from './Field.vue'

/**
 * A day and a time on the site's wall. What is typed goes out without an offset, and the server, who
 * knows the zone, makes an instant of it; what was not touched stays the instant that it was.
 */
defineProps<{ label: string; empty: string; problems?: Problem[] }>()
const instant = defineModel<string | null>({ required: true })

const day = ref('')
const time = ref('')
const unreadable = ref(false)
let emitted: string | null | undefined

watch(
  instant,
  (value) => {
    if (value === emitted) return
    const isWall = value !== null && /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(value)
    const wall =
      value === null ? null : isWall ? { day: value.slice(0, 10), time: value.slice(11) } : wallOf(value)
    day.value = wall ? wall.day.split('-').reverse().join('.') : ''
    time.value = wall ? wall.time : ''
    unreadable.value = false
  },
  { immediate: true },
)

/** Read 24.11.2026, 24/11/26 or 2026-11-24, and 17:30 or 17. */
function read(): string | null | undefined {
  if (!day.value.trim()) return null
  const iso = /^\s*(\d{4})-(\d{1,2})-(\d{1,2})\s*$/.exec(day.value)
  const written = /^\s*(\d{1,2})[./ ](\d{1,2})[./ ](\d{2}|\d{4})\s*$/.exec(day.value)
  const found = iso ? [iso[3], iso[2], iso[1]] : written ? [written[1], written[2], written[3]] : null
  const clock = /^\s*(\d{1,2})(?:[:.](\d{2}))?\s*$/.exec(time.value || '00:00')
  if (!found || !clock) return undefined
  const two = (text: string | undefined) => (text ?? '0').padStart(2, '0')
  const year = found[2]?.length === 2 ? `20${found[2]}` : found[2]
  const wall = `${year}-${two(found[1])}-${two(found[0])}T${two(clock[1])}:${two(clock[2])}`
  const read = new Date(`${wall}Z`)
  // the 30th of February is read as a day of March: then it is none
  return Number.isNaN(read.valueOf()) || !read.toISOString().startsWith(wall) ? undefined : wall
}

function typed() {
  const value = read()
  unreadable.value = value === undefined
  if (value === undefined) return
  emitted = value
  instant.value = value
}
</script>

<template>
  <Field
    v-slot="{ id, describedBy, invalid }"
    :label="label"
    :problems="unreadable ? [{ code: 'input.date', field: null, params: {} }] : problems"
  >
    <span class="pair">
      <InputText
        :id="id"
        v-model="day"
        size="small"
        class="day"
        :placeholder="empty"
        :invalid="invalid"
        :aria-describedby="describedBy"
        @change="typed"
      />
      <InputText
        v-model="time"
        size="small"
        class="time"
        :placeholder="day ? '00:00' : t('common.time')"
        :aria-label="`${label}, ${t('common.time')}`"
        :invalid="invalid"
        @change="typed"
      />
    </span>
  </Field>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 4px;
}
.day {
  width: 7.6em;
}
.time {
  width: 4.6em;
}
</style>
