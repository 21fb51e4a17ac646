<script setup lang="ts">
import { Camera, Crop as CropIcon, ImageUp, X } from '@lucide/vue'
import { useEventListener } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, defineAsyncComponent, ref, useTemplateRef } from 'vue'

import type { Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { imageUrl } from '@/kit/controls/images'
import { problemsIn } from '@/kit/state/problems'
import { t } from '@/words'

import CameraDialog from './CameraDialog.vue'
import { useImage, useTaking } from './images'

const CropDialog = defineAsyncComponent(() => import('./CropDialog.vue'))

/** One image: from a file, dropped, pasted or from the camera; cropped by hand; with what was found in it. */
const props = defineProps<{
  token: string | null
  name: string
  isPortrait: boolean
  problems: Problem[]
}>()
const emit = defineEmits<{ set: [token: string | null] }>()

const { data: image, error: gone } = useImage(() => props.token)
const { send, crop, isBusy, problems: refused } = useTaking((taken) => emit('set', taken.token))
const problems = computed(() => [
  ...refused.value,
  ...props.problems,
  ...(props.token && gone.value ? problemsIn(gone.value) : []),
])
const findings = computed(() => (props.isPortrait ? (image.value?.findings ?? []) : []))

const chooser = useTemplateRef<HTMLInputElement>('chooser')
const isCropping = ref(false)
const isFilming = ref(false)
const isOver = ref(false)

async function take(file: Blob | null | undefined) {
  if (file) await send(file)
}
function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  void take(input.files?.[0])
  input.value = ''
}
function dropped(event: DragEvent) {
  isOver.value = false
  void take(event.dataTransfer?.files[0])
}
// a picture that is pasted anywhere on the page is the portrait; text that is pasted stays the field's
useEventListener(document, 'paste', (event: ClipboardEvent) => {
  const file = [...(event.clipboardData?.files ?? [])].find((one) => one.type.startsWith('image/'))
  if (!file || !props.isPortrait) return
  event.preventDefault()
  void take(file)
})
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -->
  <div
    class="slot"
    :class="{ over: isOver }"
    @dragover.prevent="isOver = true"
    @dragleave="isOver = false"
    @drop.prevent="dropped"
  >
    <div class="frame" :class="{ free: !isPortrait }">
      <img v-if="token && !gone" :src="imageUrl(token, 'page')" :alt="name" />
      <span v-else class="quiet">{{ isBusy ? t('common.loading') : t('photos.drop') }}</span>
    </div>
    <div class="side">
      <b>{{ name }}</b>
      <div class="acts">
        <input
          ref="chooser"
          type="file"
          class="unseen"
          tabindex="-1"
          accept="image/jpeg,image/png,image/webp,image/heic,image/heif"
          :aria-label="t('photos.file', { name })"
          @change="chosen"
        />
        <Button
          size="small"
          severity="secondary"
          :aria-label="t('photos.file', { name })"
          :loading="isBusy"
          @click="chooser?.click()"
        >
          <ImageUp :size="14" aria-hidden="true" /> {{ t('photos.fromFile') }}
        </Button>
        <Button
          size="small"
          severity="secondary"
          :aria-label="t('photos.camera', { name })"
          @click="isFilming = true"
        >
          <Camera :size="14" aria-hidden="true" /> {{ t('photos.fromCamera') }}
        </Button>
        <Button
          v-if="image"
          size="small"
          severity="secondary"
          :aria-label="t('photos.crop', { name })"
          @click="isCropping = true"
        >
          <CropIcon :size="14" aria-hidden="true" /> {{ t('photos.cropIt') }}
        </Button>
        <Button
          v-if="token"
          size="small"
          severity="secondary"
          variant="text"
          :aria-label="t('photos.remove', { name })"
          :title="t('photos.remove', { name })"
          @click="emit('set', null)"
        >
          <X :size="14" aria-hidden="true" />
        </Button>
      </div>
      <FieldProblem :id="`photo-${name}`" :problems="problems" />
      <div v-if="findings.length" class="findings" role="status">
        <p v-for="one in findings" :key="one.finding">
          {{ t(`photos.findings.${one.finding}`, { figure: one.figure }) }}
        </p>
      </div>
      <p v-else-if="token && image && isPortrait" class="quiet good">{{ t('photos.good') }}</p>
    </div>
    <CameraDialog v-if="isFilming" :name="name" @take="take" @close="isFilming = false" />
    <CropDialog
      v-if="isCropping && image"
      :image="image"
      :is-portrait="isPortrait"
      :name="name"
      @crop="((isCropping = false), crop(image.token, $event))"
      @close="isCropping = false"
    />
  </div>
</template>

<style scoped>
.slot {
  display: flex;
  gap: 12px;
  padding: 2px;
}
.over {
  outline: 2px dashed var(--p-cadrin-teal);
}
.frame {
  display: grid;
  flex: none;
  place-items: center;
  width: 84px;
  height: 105px;
  padding: 4px;
  font-size: 12px;
  text-align: center;
  border: 1px dashed var(--p-cadrin-hairline);
  border-radius: 4px;
  overflow: hidden;
}
.frame:has(img) {
  padding: 0;
  border-style: solid;
}
.free {
  height: 60px;
}
img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.acts {
  position: relative;
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 4px 0;
}
.findings {
  padding-left: 10px;
  font-size: 13px;
  border-left: 3px solid var(--p-cadrin-lit);
}
.good {
  font-size: 13px;
}
</style>
