<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { useAsking } from '@/kit/asking'
import { useReads } from '@/kit/reads'
import SelectField from '@/kit/SelectField.vue'
import { t, wordsFor } from '@/words'

import { type Capture, type Finger, formOf } from './fingers'
import LowerQuality from './LowerQuality.vue'
import PressLine from './PressLine.vue'
import SilentReader from './SilentReader.vue'

/** Taking a finger: each press with its picture, quality and one piece of advice, until all are there. */
const props = defineProps<{ finger: Finger; id: number | null; readers: House['readers'] }>()
const emit = defineEmits<{ taken: [capture: Capture]; cancel: [] }>()

const EVERY_MS = 500
const FILES = 0
const reads = useReads()
const scanners = props.readers.filter((one) => one.is_desk && one.has_finger_scanner)
const at = ref((scanners.find((one) => one.id === reads.deskReader?.id) ?? scanners[0])?.id ?? FILES)
const places = computed(() => [
  ...scanners.map((one) => ({ value: one.id, word: one.name })),
  { value: FILES, word: t('fingers.fromFiles') },
])
const reader = computed(() => scanners.find((one) => one.id === at.value))
const readerName = computed(() => reader.value?.name ?? '')

const capture = ref<Capture>()
const { asking, isBusy, refused } = useAsking()
const lowered = ref<{ least_quality: number; lowered_because: string }>()
const chooser = useTemplateRef<HTMLInputElement>('chooser')
const picture = computed(() =>
  capture.value?.has_picture
    ? `/api/fingers/captures/${capture.value.token}/picture/?press=${capture.value.presses.length}`
    : '',
)
let clock: ReturnType<typeof setTimeout> | undefined
let isGone = false

async function begin() {
  clearTimeout(clock)
  capture.value = undefined
  const begun = await asking(() =>
    unwrap(
      client.POST('/api/fingers/captures/', {
        body: {
          finger: props.finger,
          reader: at.value || null,
          cardholder: props.id,
          least_quality: lowered.value?.least_quality ?? null,
          lowered_because: lowered.value?.lowered_because ?? '',
        },
      }),
    ),
  )
  if (begun) take(begun)
}
function take(state: Capture) {
  if (isGone) return
  capture.value = state
  if (state.taken >= state.wanted) emit('taken', state)
  else if (at.value) clock = setTimeout(() => void look(), EVERY_MS)
}
async function look() {
  const token = capture.value?.token
  if (!token) return
  const state = await asking(() =>
    unwrap(client.GET('/api/fingers/captures/{token}/', { params: { path: { token } } })),
  )
  if (state) take(state)
  else if (!isGone) clock = setTimeout(() => void look(), EVERY_MS * 4)
}
async function sent(event: Event) {
  const input = event.target as HTMLInputElement
  const token = capture.value?.token
  for (const file of input.files ?? []) {
    if (!token || isGone) break
    const state = await asking(() =>
      unwrap(
        client.POST('/api/fingers/captures/{token}/files/', {
          params: { path: { token } },
          body: {} as never,
          bodySerializer: () => formOf(file),
        }),
      ),
    )
    if (!state) break
    take(state)
  }
  input.value = ''
}
function lower(to: { least_quality: number; lowered_because: string }) {
  lowered.value = to
  void begin()
}
watch([() => props.finger, at], () => void begin(), { immediate: true })
onBeforeUnmount(() => {
  isGone = true
  clearTimeout(clock)
})
</script>

<template>
  <div class="capture">
    <div class="glass">
      <img v-if="picture" :src="picture" :alt="t('fingers.picture')" />
      <span v-else-if="capture?.presses.length" class="quiet">{{ t('fingers.noPicture') }}</span>
    </div>
    <div class="side">
      <SelectField
        v-if="scanners.length"
        v-model="at"
        class="at"
        :label="t('fingers.at')"
        :options="places"
      />
      <p v-if="at" class="lay">
        {{ t('fingers.lay', { finger: t(`fingers.names.${finger}`), reader: readerName }) }}
      </p>
      <p v-else class="quiet">{{ t('fingers.files') }}</p>
      <SilentReader v-if="reader" :reader="reader" />
      <PressLine v-if="capture" :capture="capture" />
      <p v-for="problem in refused" :key="problem.code" class="denied" role="alert">
        {{ wordsFor(problem) }}
      </p>
      <div class="row">
        <template v-if="!at">
          <input
            ref="chooser"
            type="file"
            class="unseen"
            tabindex="-1"
            multiple
            accept="image/png,.png,.fmr,.iso"
            :aria-label="t('fingers.chooseFile')"
            @change="sent"
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
          v-if="refused.length"
          size="small"
          severity="secondary"
          :label="t('common.again')"
          @click="begin"
        />
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="emit('cancel')"
        />
        <LowerQuality v-if="capture" :least="capture.least_quality" :is-lowered="!!lowered" @lower="lower" />
      </div>
    </div>
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
.glass {
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
.glass img {
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
.side > .row {
  flex-wrap: wrap;
  margin-top: auto;
}
.at {
  max-width: 220px;
}
.lay {
  font-weight: 600;
}
</style>
