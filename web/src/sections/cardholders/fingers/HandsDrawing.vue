<script setup lang="ts">
import { ref } from 'vue'

import { t } from '@/words'

import { codeOf, type Finger, FINGERS } from './fingers'

/** Two hands, seen from above as they lie on the desk: what is enrolled shows its quality and age on the finger. */
export interface FingerShown {
  words: string
  quality: number | null
  age: string
  state: 'free' | 'kept' | 'new' | 'poor'
}
const props = defineProps<{ shown: Record<Finger, FingerShown> }>()
const chosen = defineModel<Finger | null>({ required: true })

/** In the order in which they lie, from the left: place of the tip, length and lean of each. */
const LAID: { finger: Finger; x: number; y: number; length: number; lean: number }[] = [
  { finger: 'left_little', x: 26, y: 52, length: 56, lean: -14 },
  { finger: 'left_ring', x: 56, y: 26, length: 76, lean: -6 },
  { finger: 'left_middle', x: 89, y: 16, length: 84, lean: 0 },
  { finger: 'left_index', x: 122, y: 28, length: 76, lean: 6 },
  { finger: 'left_thumb', x: 168, y: 84, length: 58, lean: 44 },
  { finger: 'right_thumb', x: 232, y: 84, length: 58, lean: -44 },
  { finger: 'right_index', x: 278, y: 28, length: 76, lean: -6 },
  { finger: 'right_middle', x: 311, y: 16, length: 84, lean: 0 },
  { finger: 'right_ring', x: 344, y: 26, length: 76, lean: 6 },
  { finger: 'right_little', x: 374, y: 52, length: 56, lean: 14 },
]
const WIDTH = 25
/** A point so far from the tip towards the palm. */
function along(x: number, y: number, lean: number, far: number) {
  const turned = (lean * Math.PI) / 180
  return { x: x - Math.sin(turned) * far, y: y + Math.cos(turned) * far }
}
const focused = ref<Finger>('right_index')
const drawing = ref<SVGSVGElement>()

function choose(finger: Finger) {
  chosen.value = finger
  focused.value = finger
  drawing.value?.querySelector<SVGElement>(`[data-finger="${finger}"]`)?.focus()
}
let typed = ''
function typedKey(event: KeyboardEvent) {
  const place = LAID.findIndex((one) => one.finger === focused.value)
  const step = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key]
  if (step !== undefined) choose(LAID[(place + step + LAID.length) % LAID.length]!.finger)
  else if (/^\d$/.test(event.key)) {
    // 1 to 10: a 0 after the 1 makes it a ten
    typed = typed === '1' && event.key === '0' ? '10' : event.key
    const finger = FINGERS[Number(typed) - 1]
    if (finger) choose(finger)
  } else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <svg
    ref="drawing"
    viewBox="0 0 400 168"
    class="hands"
    role="radiogroup"
    tabindex="-1"
    :aria-label="t('fingers.title')"
    @keydown="typedKey"
  >
    <path class="palm" d="M24 100 Q30 166 76 166 H112 Q146 166 152 128 L140 96 Z" />
    <path class="palm" d="M376 100 Q370 166 324 166 H288 Q254 166 248 128 L260 96 Z" />
    <text class="hand" x="82" y="150" text-anchor="middle">{{ t('fingers.hands.left') }}</text>
    <text class="hand" x="318" y="150" text-anchor="middle">{{ t('fingers.hands.right') }}</text>
    <g
      v-for="{ finger, x, y, length, lean } in LAID"
      :key="finger"
      class="finger"
      :class="[props.shown[finger].state, { chosen: chosen === finger }]"
      :data-finger="finger"
      role="radio"
      :aria-checked="chosen === finger"
      :aria-label="`${codeOf(finger)}: ${props.shown[finger].words}`"
      :tabindex="focused === finger ? 0 : -1"
      @click="choose(finger)"
      @keydown.enter.space.prevent="choose(finger)"
      @focus="focused = finger"
    >
      <rect
        :x="x - WIDTH / 2"
        :y="y - WIDTH / 2"
        :width="WIDTH"
        :height="length + WIDTH / 2"
        :rx="WIDTH / 2"
        :transform="`rotate(${lean} ${x} ${y})`"
      />
      <text :x="x" :y="y + 4" text-anchor="middle">
        {{ props.shown[finger].quality ?? '' }}
      </text>
      <text class="age" :x="along(x, y, lean, 14).x" :y="along(x, y, lean, 14).y + 4" text-anchor="middle">
        {{ props.shown[finger].age }}
      </text>
      <title>{{ props.shown[finger].words }}</title>
    </g>
  </svg>
</template>

<style scoped>
.hands {
  width: 100%;
  max-width: 400px;
  height: auto;
  outline: none;
}
.palm {
  fill: var(--p-cadrin-paper);
  stroke: var(--p-cadrin-hairline);
}
.hand {
  font-size: 11px;
  fill: var(--p-cadrin-quiet);
}
.finger {
  cursor: pointer;
  outline: none;
}
.finger rect {
  fill: var(--p-cadrin-sheet);
  stroke: var(--p-cadrin-quiet);
  stroke-width: 1;
}
.finger text {
  font-size: 11px;
  font-weight: 600;
  fill: var(--p-cadrin-ink);
}
.finger .age {
  font-size: 9px;
  font-weight: 400;
}
.kept rect {
  fill: var(--p-cadrin-teal-paper);
  stroke: var(--p-cadrin-teal);
}
.new rect {
  fill: var(--p-cadrin-amber-paper);
  stroke: var(--p-cadrin-ink);
  stroke-dasharray: 4 3;
}
.poor rect {
  fill: var(--p-cadrin-amber-paper);
  stroke: var(--p-cadrin-lit);
}
.chosen rect {
  stroke: var(--p-cadrin-ink);
  stroke-width: 2.5;
}
.finger:focus-visible rect {
  stroke: var(--p-cadrin-teal);
  stroke-width: 3.5;
}
</style>
