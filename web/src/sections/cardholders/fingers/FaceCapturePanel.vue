<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { useAsking } from '@/kit/asking'
import { useReads } from '@/kit/reads'
import SelectField from '@/kit/SelectField.vue'
import { t, wordsFor } from '@/words'

import CameraDialog from '../photo/CameraDialog.vue'
import QualityBar from './QualityBar.vue'
import SilentReader from './SilentReader.vue'
import { type FaceCapture, formOf } from './fingers'

/** Taking a face: from the portrait, the camera, a file or a reader; the best picture so far is used. */
const props = defineProps<{
  id: number | null
  portrait: string | null
  readers: House['readers']
}>()
const emit = defineEmits<{ taken: [capture: FaceCapture]; cancel: [] }>()

const EVERY_MS = 500
const PORTRAIT = -1
const CAMERA = -2
const FILE = 0
const reads = useReads()
const atDesks = props.readers.filter((one) => one.is_desk && one.has_face_reader)
const { asking, isBusy, refused } = useAsking()
const places = computed(() => [
  ...(props.portrait ? [{ value: PORTRAIT, word: t('faces.portrait') }] : []),
  ...atDesks.map((one) => ({ value: one.id, word: one.name })),
  { value: CAMERA, word: t('faces.camera') },
  { value: FILE, word: t('faces.file') },
])
const at = ref(atDesks.find((one) => one.id === reads.deskReader?.id)?.id ?? places.value[0]?.value ?? FILE)
const reader = computed(() => atDesks.find((one) => one.id === at.value))
const readerName = computed(() => reader.value?.name ?? '')
const capture = ref<FaceCapture>()
const isFilming = ref(false)
const chooser = useTemplateRef<HTMLInputElement>('chooser')
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
  return problem
    ? [t('fingers.notTaken', { why: wordsFor(problem) }), todo].join(' ')
    : todo || t('fingers.good')
})
let clock: ReturnType<typeof setTimeout> | undefined
let isGone = false

async function begin() {
  clearTimeout(clock)
  capture.value = undefined
  const begun = await asking(() =>
    unwrap(
      client.POST('/api/faces/captures/', {
        body: { reader: at.value > 0 ? at.value : null, cardholder: props.id },
      }),
    ),
  )
  if (begun) take(begun)
}
function take(state: FaceCapture) {
  if (isGone) return
  capture.value = state
  if (at.value > 0) clock = setTimeout(() => void look(), EVERY_MS)
}
async function look() {
  const token = capture.value?.token
  if (!token) return
  const state = await asking(() =>
    unwrap(client.GET('/api/faces/captures/{token}/', { params: { path: { token } } })),
  )
  if (state) take(state)
  else if (!isGone) clock = setTimeout(() => void look(), EVERY_MS * 4)
}
async function send(file: Blob) {
  const token = capture.value?.token
  if (!token) return
  const state = await asking(() =>
    unwrap(
      client.POST('/api/faces/captures/{token}/files/', {
        params: { path: { token } },
        body: {} as never,
        bodySerializer: () => formOf(file),
      }),
    ),
  )
  if (state) take(state)
}
async function fromPortrait() {
  const token = capture.value?.token
  const image = props.portrait
  if (!token || !image) return
  const state = await asking(() =>
    unwrap(
      client.POST('/api/faces/captures/{token}/portrait/', { params: { path: { token } }, body: { image } }),
    ),
  )
  if (state) take(state)
}
function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) void send(file)
  input.value = ''
}
watch(at, () => void begin(), { immediate: true })
onBeforeUnmount(() => {
  isGone = true
  clearTimeout(clock)
})
</script>

<template>
  <div class="capture">
    <div class="picture">
      <img v-if="picture" :src="picture" :alt="t('faces.picture')" />
      <span v-else class="quiet">{{ t('faces.nothing') }}</span>
    </div>
    <div class="side">
      <SelectField v-model="at" class="at" :label="t('faces.from')" :options="places" />
      <p v-if="at > 0" class="look">{{ t('faces.look', { reader: readerName }) }}</p>
      <SilentReader v-if="reader" :reader="reader" />
      <p class="quiet">{{ t('faces.about') }}</p>
      <QualityBar v-if="capture" :quality="capture.quality ?? 0" :least="capture.least_quality" />
      <p v-if="last" role="status" :class="{ denied: last.problem }">
        <b v-if="capture?.quality">{{ t('faces.best', { quality: capture.quality }) }}</b>
        {{ said }}
      </p>
      <p v-for="problem in refused" :key="problem.code" class="denied" role="alert">
        {{ wordsFor(problem) }}
      </p>
      <div class="row acts">
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
        <template v-else-if="at === FILE">
          <input
            ref="chooser"
            type="file"
            class="unseen"
            tabindex="-1"
            accept="image/jpeg,image/png,image/webp,image/heic,image/heif"
            :aria-label="t('fingers.chooseFile')"
            @change="chosen"
          />
          <Button
            size="small"
            :label="t('fingers.chooseFile')"
            :loading="isBusy"
            :disabled="!capture"
            @click="chooser?.click()"
          />
        </template>
        <Button
          size="small"
          :severity="capture?.quality ? undefined : 'secondary'"
          :label="t('faces.use')"
          :disabled="!capture?.quality"
          @click="capture && emit('taken', capture)"
        />
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="emit('cancel')"
        />
      </div>
    </div>
    <CameraDialog
      v-if="isFilming"
      :name="t('faces.title')"
      @take="void send($event)"
      @close="isFilming = false"
    />
  </div>
</template>

<style scoped>
.capture {
  display: grid;
  grid-template-columns: 148px 1fr;
  gap: 14px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.picture {
  display: grid;
  place-items: center;
  width: 148px;
  height: 185px;
  padding: 4px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 6px;
  background: var(--p-cadrin-sheet);
  text-align: center;
}
.picture img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-width: 0;
}
.acts {
  flex-wrap: wrap;
  margin-top: auto;
}
.at {
  max-width: 220px;
}
.look {
  font-weight: 600;
}
</style>
