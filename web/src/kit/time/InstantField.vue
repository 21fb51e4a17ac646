<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'

import type { Problem } from '@/api/client'
import { t } from '@/words'

import { wallOf } from './clock'
import { dayAfter, readDay, understoodDay, writtenDay } from './days'
import DayPicker from './DayPicker.vue'
import Field from '@/kit/controls/Field.vue'
import { clockWords, readClock } from './region'

/**
 * A day and a time on the site's wall. What is typed goes out without an offset, and the server, who
 * knows the zone, makes an instant of it; what was not touched stays the instant that it was. Where it is
 * an end, a day without a time means through that day.
 */
const props = defineProps<{ label: string; empty: string; isEnd?: boolean; problems?: Problem[] }>()
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
  const wall = value === null ? null : wallOf(value)
  const isThrough = !!props.isEnd && wall?.time === '00:00'
  day.value = writtenDay(wall && isThrough ? dayAfter(wall.day, -1) : (wall?.day ?? null))
  time.value = isThrough || !wall ? '' : clockWords(wall.time)
  unreadable.value = false
}

/** Read a day as `readDay` does and a time as `readClock`; an end may be at 24:00. */
function read(): string | null | undefined {
  const found = readDay(day.value)
  if (!found) return found
  // what a day alone means, the server says
  if (props.isEnd && !time.value.trim()) return found
  const written = readClock(time.value.trim() || '00:00')
  if (written === undefined) return undefined
  if (written === '24:00') return props.isEnd ? found : undefined
  const wall = `${found}T${written}`
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

function picked(found: string) {
  day.value = writtenDay(found)
  typed()
}

/** What is understood, with the weekday: nobody has to know in which order days are read. */
const understood = computed(() => {
  const found = unreadable.value ? null : readDay(day.value)
  if (!found) return ''
  const words = understoodDay(found)
  if (time.value) return t('common.atTime', { day: words, time: time.value })
  return props.isEnd
    ? t('common.through', { day: words })
    : t('common.atTime', { day: words, time: clockWords('00:00') })
})
</script>

<template>
  <Field
    v-slot="{ id, describedBy, invalid }"
    :label="label"
    :hint="understood"
    :problems="unreadable ? [{ code: 'input.date', field: null, params: {} }] : problems"
  >
    <span class="pair">
      <DayPicker :label="label" :day="readDay(day) ?? null" @pick="picked">
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
      </DayPicker>
      <InputText
        v-model="time"
        size="small"
        class="time"
        :placeholder="day ? (isEnd ? t('common.midnight') : clockWords('00:00')) : t('common.time')"
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
  width: 9.6em;
}
.time {
  width: 4.6em;
}
</style>
