<script setup lang="ts">
import { computed } from 'vue'

import type { OpenSpan } from '@/api/client'
import { t } from '@/words'

/** A week as a strip of night in which the hours when a door will open are lit. */
const props = defineProps<{
  week: OpenSpan
  lit: OpenSpan[]
  /** The instant asked for, drawn as a line. */
  at?: string | null
  /** Outside of this the strip is hatched: before activation, after expiry. */
  inForce?: { start: string | null; end: string | null }
  height?: number
}>()

const start = computed(() => Date.parse(props.week.start))
const length = computed(() => Date.parse(props.week.end) - start.value)
const place = (instant: string) =>
  Math.min(100, Math.max(0, ((Date.parse(instant) - start.value) / length.value) * 100))

const windows = computed(() =>
  props.lit.map((one) => ({ x: place(one.start), width: place(one.end) - place(one.start) })),
)
const hatched = computed(() => {
  const found: { x: number; width: number }[] = []
  const begins = props.inForce?.start ? place(props.inForce.start) : 0
  const ends = props.inForce?.end ? place(props.inForce.end) : 100
  if (begins > 0) found.push({ x: 0, width: begins })
  if (ends < 100) found.push({ x: ends, width: 100 - ends })
  return found
})
const hours = computed(() =>
  Math.round(
    props.lit.reduce((sum, one) => sum + Date.parse(one.end) - Date.parse(one.start), 0) / 3_600_000,
  ),
)
const words = computed(() => (hours.value ? t('reach.lit', { hours: hours.value }) : t('reach.never')))
const id = `hatch-${Math.random().toString(36).slice(2)}`
</script>

<template>
  <svg
    class="strip"
    viewBox="0 0 100 10"
    preserveAspectRatio="none"
    role="img"
    :aria-label="words"
    :style="{ height: `${height ?? 14}px` }"
  >
    <title>{{ words }}</title>
    <defs>
      <pattern :id="id" width="1.2" height="3" patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
        <rect width="0.5" height="3" class="hatch" />
      </pattern>
    </defs>
    <rect width="100" height="10" class="night" />
    <rect v-for="(one, i) in windows" :key="i" :x="one.x" y="1" :width="one.width" height="8" class="lit" />
    <rect
      v-for="(one, i) in hatched"
      :key="`h${i}`"
      :x="one.x"
      y="0"
      :width="one.width"
      height="10"
      :fill="`url(#${id})`"
    />
    <path
      v-for="day in 6"
      :key="`d${day}`"
      :d="`M${(day * 100) / 7} 0 V10`"
      class="day"
      vector-effect="non-scaling-stroke"
    />
    <path v-if="at" :d="`M${place(at)} 0 V10`" class="at" vector-effect="non-scaling-stroke" />
  </svg>
</template>

<style scoped>
.strip {
  display: block;
  width: 100%;
  border-radius: 2px;
}
.night {
  fill: var(--p-cadrin-night);
}
.lit {
  fill: var(--p-cadrin-lit);
}
.hatch {
  fill: var(--p-cadrin-night-line);
}
.day {
  stroke: var(--p-cadrin-night-line);
  stroke-width: 1;
}
.at {
  stroke: var(--p-cadrin-now);
  stroke-width: 2;
}
</style>
