<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted, ref, useTemplateRef } from 'vue'

import { t } from '@/words'

/** A signature drawn with pen, finger or mouse. */
const emit = defineEmits<{ drawn: [picture: Blob | null] }>()

const WIDTH = 560
const HEIGHT = 150
const pad = useTemplateRef<HTMLCanvasElement>('pad')
const isDrawn = ref(false)
let isDown = false

const pen = () => pad.value?.getContext('2d')
onMounted(() => {
  const context = pen()
  if (context) Object.assign(context, { lineWidth: 2.2, lineCap: 'round', lineJoin: 'round' })
})
function placeOf(event: PointerEvent): [number, number] {
  const box = pad.value!.getBoundingClientRect()
  return [((event.clientX - box.left) / box.width) * WIDTH, ((event.clientY - box.top) / box.height) * HEIGHT]
}
function begin(event: PointerEvent) {
  pad.value?.setPointerCapture(event.pointerId)
  isDown = true
  pen()?.beginPath()
  pen()?.moveTo(...placeOf(event))
}
function draw(event: PointerEvent) {
  if (!isDown) return
  pen()?.lineTo(...placeOf(event))
  pen()?.stroke()
  isDrawn.value = true
}
function end() {
  isDown = false
  if (isDrawn.value) pad.value?.toBlob((picture) => emit('drawn', picture), 'image/png')
}
function clear() {
  pen()?.clearRect(0, 0, WIDTH, HEIGHT)
  isDrawn.value = false
  emit('drawn', null)
}
</script>

<template>
  <div>
    <div class="row">
      <span id="signature-label">{{ t('consents.sign') }}</span>
      <Button
        class="push"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('consents.clear')"
        :disabled="!isDrawn"
        @click="clear"
      />
    </div>
    <canvas
      ref="pad"
      role="img"
      aria-labelledby="signature-label"
      :width="WIDTH"
      :height="HEIGHT"
      @pointerdown="begin"
      @pointermove="draw"
      @pointerup="end"
      @pointercancel="end"
    ></canvas>
  </div>
</template>

<style scoped>
canvas {
  width: 100%;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 6px;
  background: #fff;
  cursor: crosshair;
  touch-action: none;
}
</style>
