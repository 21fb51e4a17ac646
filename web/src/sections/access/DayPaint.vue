<script setup lang="ts">
import { computed, ref } from 'vue'

import { clockText, type Hours } from '@/kit/time/hours'
import { isLitAt, litOfDay, painted, type Stretch } from '@/kit/time/painting'
import { t } from '@/words'

/**
 * One day of the week, to be painted: by dragging over it, or by keys. Whatever began on lit hours darkens them.
 */
const props = defineProps<{ day: string; weekday: number; disabled?: boolean }>()
const emit = defineEmits<{ step: [by: number] }>()
const hours = defineModel<Hours>({ required: true })

const MINUTES_A_DAY = 1440
const STEP = 15
const strip = ref<HTMLElement | null>(null)
const cursor = ref(8 * 60)
/** Where painting began, in minutes of the day; none while nothing is painted. */
const anchor = ref<number | null>(null)
const start = computed(() => props.weekday * MINUTES_A_DAY)
const erases = ref(false)

const under = computed<Stretch | null>(() => {
  if (anchor.value === null) return null
  const [from, to] = [Math.min(anchor.value, cursor.value), Math.max(anchor.value, cursor.value)]
  return from === to ? null : { from, to }
})
const shown = computed(() => {
  const stretch = under.value
  if (!stretch) return hours.value
  return painted(hours.value, inWeek(stretch), !erases.value)
})
const lit = computed(() => litOfDay(shown.value, props.weekday))
const inWeek = ({ from, to }: Stretch): Stretch => ({ from: start.value + from, to: start.value + to })

function minuteAt(event: PointerEvent): number {
  const box = strip.value?.getBoundingClientRect()
  if (!box) return 0
  const exact = ((event.clientX - box.left) / box.width) * MINUTES_A_DAY
  const step = event.shiftKey ? 1 : STEP
  // to the right of the strip the next day begins
  return Math.max(0, Math.min(2 * MINUTES_A_DAY - STEP, Math.round(exact / step) * step))
}
function begin(minute: number) {
  anchor.value = minute
  erases.value = isLitAt(hours.value, start.value + Math.min(minute, MINUTES_A_DAY - 1))
}
function finish() {
  if (under.value) hours.value = painted(hours.value, inWeek(under.value), !erases.value)
  anchor.value = null
}
function down(event: PointerEvent) {
  if (props.disabled || event.button !== 0) return
  strip.value?.setPointerCapture(event.pointerId)
  cursor.value = minuteAt(event)
  begin(cursor.value)
}
function move(event: PointerEvent) {
  if (anchor.value !== null && event.buttons) cursor.value = minuteAt(event)
}

function key(event: KeyboardEvent) {
  const by = event.shiftKey ? 1 : STEP
  const most = anchor.value === null ? MINUTES_A_DAY : 2 * MINUTES_A_DAY - STEP
  const acts: Record<string, () => void> = {
    ArrowRight: () => (cursor.value = Math.min(most, cursor.value + by)),
    ArrowLeft: () => (cursor.value = Math.max(0, cursor.value - by)),
    ArrowDown: () => emit('step', 1),
    ArrowUp: () => emit('step', -1),
    Home: () => (cursor.value = 0),
    End: () => (cursor.value = MINUTES_A_DAY),
    ' ': () => !props.disabled && (anchor.value === null ? begin(cursor.value) : finish()),
    Enter: () => anchor.value !== null && finish(),
    Escape: () => (anchor.value = null),
  }
  const act = acts[event.key]
  if (!act || event.ctrlKey || event.metaKey) return
  event.preventDefault()
  event.stopPropagation()
  act()
}
const words = computed(() => {
  const at = clockText(cursor.value)
  if (under.value) {
    const [from, to] = [clockText(under.value.from), clockText(under.value.to)]
    return t(erases.value ? 'access.darkening' : 'access.lighting', { from, to })
  }
  const isLit = isLitAt(hours.value, start.value + Math.min(cursor.value, MINUTES_A_DAY - 1))
  return t(isLit ? 'access.litAt' : 'access.darkAt', { at })
})
const percent = (minute: number) => `${(Math.min(minute, MINUTES_A_DAY) / MINUTES_A_DAY) * 100}%`
defineExpose({ focus: () => strip.value?.focus() })
</script>

<template>
  <div
    ref="strip"
    class="strip"
    :class="{ painting: anchor !== null }"
    role="slider"
    tabindex="0"
    :aria-label="t('access.paintDay', { day })"
    aria-valuemin="0"
    :aria-valuemax="MINUTES_A_DAY"
    :aria-valuenow="Math.min(cursor, MINUTES_A_DAY)"
    :aria-valuetext="words"
    :aria-disabled="disabled"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="finish"
    @pointercancel="anchor = null"
    @keydown="key"
    @blur="anchor = null"
  >
    <span
      v-for="one in lit"
      :key="one.from"
      class="lit"
      :style="{ left: percent(one.from), width: percent(one.to - one.from) }"
    />
    <span v-for="hour in [6, 12, 18]" :key="hour" class="hour" :style="{ left: percent(hour * 60) }" />
    <span class="cursor" :style="{ left: percent(cursor) }"
      ><span class="says">{{ words }}</span></span
    >
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  height: 24px;
  border-radius: 2px;
  background: var(--p-cadrin-night);
  cursor: crosshair;
  touch-action: none;
}
.lit {
  position: absolute;
  top: 2px;
  bottom: 2px;
  background: var(--p-cadrin-lit);
  pointer-events: none;
}
.hour {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 1px;
  background: var(--p-cadrin-night-line);
  pointer-events: none;
}
.cursor {
  position: absolute;
  top: -2px;
  bottom: -2px;
  width: 2px;
  background: var(--p-cadrin-now);
  opacity: 0;
  pointer-events: none;
}
.strip:focus-visible .cursor,
.painting .cursor {
  opacity: 1;
}
.says {
  position: absolute;
  bottom: 100%;
  z-index: 2;
  padding: 1px 6px;
  border-radius: 4px;
  background: var(--p-cadrin-ink);
  color: var(--p-cadrin-paper);
  font-size: 12px;
  white-space: nowrap;
  transform: translateX(-50%);
}
</style>
