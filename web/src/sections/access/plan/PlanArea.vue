<script setup lang="ts">
import { ref } from 'vue'

import { t } from '@/words'

import { movedArea, sizedArea, WHOLE } from './moving'
import type { AreaPlace } from './plan'

/** An area drawn on the plan: moved, and pulled to its size at its corner, by the mouse or by keys. */
const props = defineProps<{ area: AreaPlace; name: string; isMoving: boolean }>()
const emit = defineEmits<{ change: [area: AreaPlace]; takeAway: [] }>()

const STEP = 5
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
}
function press(event: KeyboardEvent) {
  const step = STEPS[event.key]
  const { x, y, width, height } = props.area
  if (step && event.shiftKey) emit('change', sizedArea(props.area, width + step[0], height + step[1]))
  else if (step) emit('change', movedArea(props.area, x + step[0], y + step[1]))
  else if (event.key === 'Delete') emit('takeAway')
  else return
  event.preventDefault()
}
/** Where the pointer took hold of it, and whether at the corner. */
const held = ref<{ x: number; y: number; area: AreaPlace; isCorner: boolean } | null>(null)
function begin(event: PointerEvent, isCorner: boolean) {
  if (!props.isMoving) return
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  held.value = { x: event.clientX, y: event.clientY, area: props.area, isCorner }
}
function pull(event: PointerEvent) {
  const sheet = (event.currentTarget as HTMLElement).closest('.sheet')?.getBoundingClientRect()
  if (!held.value || !event.buttons || !sheet) return
  const dx = ((event.clientX - held.value.x) / sheet.width) * WHOLE
  const dy = ((event.clientY - held.value.y) / sheet.height) * WHOLE
  const { area, isCorner } = held.value
  emit(
    'change',
    isCorner ? sizedArea(area, area.width + dx, area.height + dy) : movedArea(area, area.x + dx, area.y + dy),
  )
}
const share = (value: number) => `${(value / WHOLE) * 100}%`
</script>

<template>
  <component
    :is="isMoving ? 'button' : 'div'"
    :type="isMoving ? 'button' : undefined"
    class="area"
    :class="{ moving: isMoving }"
    :style="{
      left: share(area.x),
      top: share(area.y),
      width: share(area.width),
      height: share(area.height),
    }"
    :aria-label="isMoving ? t('plan.area', { name }) : undefined"
    @keydown="press"
    @pointerdown="begin($event, false)"
    @pointermove="pull"
    @pointerup="held = null"
  >
    <span class="name">{{ name }}</span>
    <span
      v-if="isMoving"
      class="corner"
      aria-hidden="true"
      @pointerdown.stop="begin($event, true)"
      @pointermove.stop="pull"
      @pointerup.stop="held = null"
    />
  </component>
</template>

<style scoped>
.area {
  position: absolute;
  display: grid;
  place-items: center;
  padding: 0;
  border: 2px solid var(--p-cadrin-quiet);
  background: var(--p-cadrin-sheet);
  color: var(--p-cadrin-ink);
  font-size: 14px;
  text-align: center;
}
.moving {
  cursor: move;
}
.name {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}
.corner {
  position: absolute;
  right: -7px;
  bottom: -7px;
  width: 24px;
  height: 24px;
  border-right: 4px solid var(--p-cadrin-teal);
  border-bottom: 4px solid var(--p-cadrin-teal);
  cursor: nwse-resize;
}
</style>
