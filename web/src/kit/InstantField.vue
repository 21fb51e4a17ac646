<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'

import type { Problem } from '@/api/client'
import { t } from '@/words'

import { wallOf } from './clock'
import { readDay, writtenDay } from './days'
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
    if (value !== emitted) write(value)
  },
  { immediate: true },
)

function write(value: string | null) {
  const isWall = value !== null && /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(value)
  const wall =
    value === null ? null : isWall ? { day: value.slice(0, 10), time: value.slice(11) } : wallOf(value)
  day.value = writtenDay(wall?.day ?? null)
  time.value = wall?.time ?? ''
  unreadable.value = false
}

/** Read a day as `readDay` does, and 17:30 or 17. */
function read(): string | null | undefined {
  const found = readDay(day.value)
  if (!found) return found
  const clock = /^\s*(\d{1,2})(?:[:.](\d{2}))?\s*$/.exec(time.value || '00:00')
  if (!clock) return undefined
  const two = (text: string | undefined) => (text ?? '0').padStart(2, '0')
  const wall = `${found}T${two(clock[1])}:${two(clock[2])}`
  return Number.isNaN(Date.parse(`${wall}Z`)) ? undefined : wall
}

function typed() {
  const value = read()
  unreadable.value = value === undefined
  if (value === undefined) return
  if (value !== null) {
    // so that everybody sees how it was read: 5/12 is a day of December here
    const hasTime = time.value !== ''
    write(value)
    if (!hasTime) time.value = ''
  }
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
