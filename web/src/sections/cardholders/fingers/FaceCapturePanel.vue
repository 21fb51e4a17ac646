<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { useReads } from '@/kit/state/reads'
import { t, wordsFor } from '@/words'

import CameraDialog from '../photo/CameraDialog.vue'
import { useCapture } from './capture'
import CapturePanel from './CapturePanel.vue'
import { type FaceCapture, formOf } from './fingers'
import QualityBar from './QualityBar.vue'

/** Taking a face: from the portrait, the camera, a file or a reader; the best picture so far is used. */
const props = defineProps<{
  id: number | null
  portrait: string | null
  readers: House['readers']
}>()
const emit = defineEmits<{ taken: [capture: FaceCapture]; cancel: [] }>()

const PORTRAIT = -1
const CAMERA = -2
const FILE = 0
const reads = useReads()
const atDesks = props.readers.filter((one) => one.is_desk && one.has_face_reader)
const places = computed(() => [
  ...(props.portrait ? [{ value: PORTRAIT, word: t('faces.portrait') }] : []),
  ...atDesks.map((one) => ({ value: one.id, word: one.name })),
  { value: CAMERA, word: t('faces.camera') },
  { value: FILE, word: t('faces.file') },
])
const at = ref(atDesks.find((one) => one.id === reads.deskReader?.id)?.id ?? places.value[0]?.value ?? FILE)
const reader = computed(() => atDesks.find((one) => one.id === at.value))
const isFilming = ref(false)

const { capture, begin, send, isBusy, refused } = useCapture<FaceCapture>(() => at.value > 0, {
  begin: () =>
    unwrap(
      client.POST('/api/faces/captures/', {
        body: { reader: at.value > 0 ? at.value : null, cardholder: props.id },
      }),
    ),
  look: (token) => unwrap(client.GET('/api/faces/captures/{token}/', { params: { path: { token } } })),
})
const picture = computed(() =>
  capture.value?.has_picture
    ? `/api/faces/captures/${capture.value.token}/picture/?place=${capture.value.pictures.length}`
    : '',
)
const last = computed(() => capture.value?.pictures.at(-1))
const said = computed(() => {
  if (!last.value) return ''
  const { problem, advice } = last.value
  const todo = advice ? t(`faces.advice.${advice}`) : ''
  if (!problem) return todo || t('fingers.good')
  return [t('fingers.notTaken', { why: wordsFor(problem) }), todo].join(' ')
})

const sendPicture = (file: Blob) =>
  send((token) =>
    unwrap(
      client.POST('/api/faces/captures/{token}/files/', {
        params: { path: { token } },
        body: {} as never,
        bodySerializer: () => formOf(file),
      }),
    ),
  )
const fromPortrait = () =>
  send((token) =>
    unwrap(
      client.POST('/api/faces/captures/{token}/portrait/', {
        params: { path: { token } },
        body: { image: props.portrait ?? '' },
      }),
    ),
  )
async function sendAll(files: File[]) {
  for (const file of files) await sendPicture(file)
}
watch(at, () => void begin(), { immediate: true })
</script>

<template>
  <CapturePanel
    v-model="at"
    :picture="picture"
    :picture-words="t('faces.picture')"
    :no-picture="t('faces.nothing')"
    :at-words="t('faces.from')"
    :places="places"
    :reader="reader"
    :refused="refused"
    :accept="at === FILE ? 'image/jpeg,image/png,image/webp,image/heic,image/heif' : undefined"
    :is-busy="isBusy"
    :is-ready="!!capture"
    @files="sendAll"
    @again="begin"
    @cancel="emit('cancel')"
  >
    <b v-if="reader">{{ t('faces.look', { reader: reader.name }) }}</b>
    <p class="quiet">{{ t('faces.about') }}</p>
    <QualityBar v-if="capture" :quality="capture.quality ?? 0" :least="capture.least_quality" />
    <p v-if="last" role="status" :class="{ denied: last.problem }">
      <b v-if="capture?.quality">{{ t('faces.best', { quality: capture.quality }) }}</b>
      {{ said }}
    </p>
    <template #acts>
      <Button
        v-if="at === PORTRAIT"
        size="small"
        :label="t('faces.takePortrait')"
        :loading="isBusy"
        :disabled="!capture"
        @click="fromPortrait"
      />
      <Button
        v-else-if="at === CAMERA"
        size="small"
        :label="t('faces.takeCamera')"
        :disabled="!capture"
        @click="isFilming = true"
      />
      <Button
        size="small"
        :severity="capture?.quality ? undefined : 'secondary'"
        :label="t('faces.use')"
        :disabled="!capture?.quality"
        @click="capture && emit('taken', capture)"
      />
    </template>
  </CapturePanel>
  <CameraDialog
    v-if="isFilming"
    :name="t('faces.title')"
    @take="void sendPicture($event)"
    @close="isFilming = false"
  />
</template>
