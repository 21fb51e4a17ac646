<script setup lang="ts">
import { computed } from 'vue'

import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import { type DoorNow, markOf } from '../doors/doors'
import { WHOLE } from './moving'
import type { DoorPlace } from './plan'

/** A door on the plan: a mark with its name; moved by the mouse or the arrow keys while it is placed. */
const props = defineProps<{
  place: DoorPlace
  name: string
  stand?: DoorNow
  isSilent: boolean
  isMoving: boolean
  isChosen: boolean
}>()
const emit = defineEmits<{
  choose: []
  drag: [event: PointerEvent]
  step: [dx: number, dy: number]
  takeAway: []
}>()

/** How a door stands whose controller does not answer, nobody knows. */
const mark = computed(() =>
  props.stand && !props.isSilent ? markOf(props.stand) : { shape: 'ring' as const, word: '' },
)
const told = computed(() => {
  const last = props.stand?.last ? t('plan.last', { name: props.stand.last.name }) : ''
  return [props.name, props.isSilent ? t('plan.silent') : mark.value.word, last].filter(Boolean).join(', ')
})
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-5, 0],
  ArrowRight: [5, 0],
  ArrowUp: [0, -5],
  ArrowDown: [0, 5],
}
function press(event: KeyboardEvent) {
  if (!props.isMoving) return
  const step = STEPS[event.key]
  if (step) emit('step', ...step)
  else if (event.key === 'Delete') emit('takeAway')
  else return
  event.preventDefault()
}
function begin(event: PointerEvent) {
  if (props.isMoving) (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function move(event: PointerEvent) {
  if (props.isMoving && event.buttons) emit('drag', event)
}
</script>

<template>
  <button
    type="button"
    class="door"
    :class="{ chosen: isChosen, alarm: stand?.alarm, silent: isSilent }"
    :style="{ left: `${(place.x / WHOLE) * 100}%`, top: `${(place.y / WHOLE) * 100}%` }"
    :aria-label="told"
    :title="told"
    :aria-pressed="isMoving ? undefined : isChosen"
    @click="isMoving || emit('choose')"
    @keydown="press"
    @pointerdown="begin"
    @pointermove="move"
  >
    <StateMark :shape="mark.shape" :word="mark.word" is-word-hidden />
    <span>{{ name }}</span>
  </button>
</template>

<style scoped>
.door {
  position: absolute;
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 24px;
  padding: 1px 6px;
  transform: translate(-50%, -50%);
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 4px;
  background: var(--p-cadrin-sheet);
  color: var(--p-cadrin-ink);
  font-size: 12px;
  white-space: nowrap;
  cursor: pointer;
}
.door:hover,
.door:focus-visible {
  z-index: 1;
}
.chosen {
  box-shadow: 0 0 0 2px var(--p-cadrin-teal);
}
.alarm {
  border-color: var(--p-cadrin-brick);
}
.silent {
  border-style: dashed;
  border-color: var(--p-cadrin-brick);
}
</style>
