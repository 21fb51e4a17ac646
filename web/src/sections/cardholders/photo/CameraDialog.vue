<script setup lang="ts">
import { useUserMedia } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { onBeforeUnmount, onMounted, ref, useTemplateRef, watchEffect } from 'vue'

import { t } from '@/words'

/** The camera at the desk. Nothing leaves the page until the picture is taken. */
defineProps<{ name: string }>()
const emit = defineEmits<{ take: [picture: Blob]; close: [] }>()

const video = useTemplateRef<HTMLVideoElement>('video')
const { stream, start, stop } = useUserMedia({
  constraints: { video: { width: { ideal: 1920 }, height: { ideal: 1440 } }, audio: false },
})
const hasFailed = ref(false)
const isReady = ref(false)

onMounted(async () => {
  try {
    await start()
  } catch {
    hasFailed.value = true
  }
  hasFailed.value ||= stream.value === undefined
})
onBeforeUnmount(stop)
watchEffect(() => {
  if (video.value && stream.value) video.value.srcObject = stream.value
})

function take() {
  const seen = video.value
  if (!seen) return
  const canvas = document.createElement('canvas')
  canvas.width = seen.videoWidth
  canvas.height = seen.videoHeight
  canvas.getContext('2d')?.drawImage(seen, 0, 0)
  canvas.toBlob(
    (picture) => {
      if (picture) emit('take', picture)
      emit('close')
    },
    'image/jpeg',
    0.95,
  )
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('photos.camera', { name })"
    :style="{ width: '640px' }"
    @update:visible="emit('close')"
  >
    <p v-if="hasFailed" class="denied" role="alert">{{ t('photos.noCamera') }}</p>
    <video
      v-else
      ref="video"
      autoplay
      muted
      playsinline
      :aria-label="t('photos.seen')"
      @loadeddata="isReady = true"
    ></video>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('close')"
      />
      <Button size="small" :label="t('photos.take')" :disabled="!isReady" @click="take" />
    </template>
  </Dialog>
</template>

<style scoped>
video {
  width: 100%;
  max-height: 60vh;
  background: var(--p-cadrin-night);
}
</style>
