<script setup lang="ts">
import 'cropperjs'

import type { CropperSelection } from 'cropperjs'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed, nextTick, useTemplateRef } from 'vue'

import { imageUrl } from '@/kit/controls/images'
import { t } from '@/words'

import type { Crop, Image } from './images'

/** Choose the part of the picture that is kept, by mouse or by the arrow keys, plus and minus. */
const props = defineProps<{ image: Image; isPortrait: boolean; name: string }>()
const emit = defineEmits<{ crop: [part: Crop]; close: [] }>()

const RATIO = 4 / 5
const WIDTH = 560
const HEIGHT = 420
const scale = Math.min(WIDTH / props.image.width, HEIGHT / props.image.height)
const left = (WIDTH - props.image.width * scale) / 2
const top = (HEIGHT - props.image.height * scale) / 2
const size = { width: `${WIDTH}px`, height: `${HEIGHT}px` }
const ratio = computed(() => (props.isPortrait ? RATIO : undefined))

const selection = useTemplateRef<CropperSelection>('selection')

const THE_DIALOG_HAS_TAKEN_FOCUS_MS = 50

/** Begin with the crop that the picture has. */
async function shown() {
  await nextTick()
  const { x, y, width, height } = props.image.crop
  selection.value?.$change(left + x * scale, top + y * scale, width * scale, height * scale, ratio.value)
  setTimeout(() => selection.value?.focus(), THE_DIALOG_HAS_TAKEN_FOCUS_MS)
}
/** Never let the selection leave the picture. */
function moved(event: Event) {
  const part = (event as CustomEvent<Crop>).detail
  const isWithin =
    part.x >= left - 1 &&
    part.y >= top - 1 &&
    part.x + part.width <= left + props.image.width * scale + 1 &&
    part.y + part.height <= top + props.image.height * scale + 1
  if (!isWithin) event.preventDefault()
}
function keep() {
  const chosen = selection.value
  if (!chosen) return
  const x = Math.max(0, (chosen.x - left) / scale)
  const y = Math.max(0, (chosen.y - top) / scale)
  emit('crop', {
    x,
    y,
    width: Math.min(chosen.width / scale, props.image.width - x),
    height: Math.min(chosen.height / scale, props.image.height - y),
  })
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('photos.crop', { name })"
    :style="{ width: '610px' }"
    @show="shown"
    @update:visible="emit('close')"
  >
    <cropper-canvas :style="size">
      <cropper-image
        :src="imageUrl(image.token, 'original')"
        :alt="name"
        initial-center-size="contain"
      ></cropper-image>
      <cropper-shade></cropper-shade>
      <cropper-selection
        ref="selection"
        tabindex="0"
        role="application"
        :aria-label="t('photos.cropKeys')"
        :aspect-ratio="ratio"
        movable
        resizable
        zoomable
        keyboard
        outlined
        theme-color="var(--p-cadrin-lit)"
        @change="moved"
      >
        <cropper-handle action="move" plain theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="n-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="e-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="s-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="w-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="ne-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="nw-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="se-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
        <cropper-handle action="sw-resize" theme-color="var(--p-cadrin-lit)"></cropper-handle>
      </cropper-selection>
    </cropper-canvas>
    <p class="quiet">{{ t('photos.cropKeys') }}</p>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('close')"
      />
      <Button size="small" :label="t('photos.keepCrop')" @click="keep" />
    </template>
  </Dialog>
</template>
