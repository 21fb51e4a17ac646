<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { useReads } from '@/kit/state/reads'
import { t } from '@/words'

import { useCapture } from './capture'
import CapturePanel from './CapturePanel.vue'
import { type Capture, type Finger, formOf } from './fingers'
import LowerQuality from './LowerQuality.vue'
import PressLine from './PressLine.vue'

/** Taking a finger: each press with its picture, quality and one piece of advice, until all are there. */
const props = defineProps<{ finger: Finger; id: number | null; readers: House['readers'] }>()
const emit = defineEmits<{ taken: [capture: Capture]; cancel: [] }>()

const FILES = 0
const reads = useReads()
const scanners = props.readers.filter((one) => one.is_desk && one.has_finger_scanner)
const at = ref((scanners.find((one) => one.id === reads.deskReader?.id) ?? scanners[0])?.id ?? FILES)
const places = computed(() => [
  ...scanners.map((one) => ({ value: one.id, word: one.name })),
  { value: FILES, word: t('fingers.fromFiles') },
])
const reader = computed(() => scanners.find((one) => one.id === at.value))
const lowered = ref<{ least_quality: number; lowered_because: string }>()

const { capture, begin, send, isBusy, refused } = useCapture<Capture>(() => at.value !== FILES, {
  begin: () =>
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
  look: (token) => unwrap(client.GET('/api/fingers/captures/{token}/', { params: { path: { token } } })),
  taken(state) {
    const isWhole = state.taken >= state.wanted
    if (isWhole) emit('taken', state)
    return isWhole
  },
})
const picture = computed(() =>
  capture.value?.has_picture
    ? `/api/fingers/captures/${capture.value.token}/picture/?press=${capture.value.presses.length}`
    : '',
)

async function sendAll(files: File[]) {
  for (const file of files) {
    const wasTaken = await send((token) =>
      unwrap(
        client.POST('/api/fingers/captures/{token}/files/', {
          params: { path: { token } },
          body: {} as never,
          bodySerializer: () => formOf(file),
        }),
      ),
    )
    if (!wasTaken) break
  }
}
function lower(to: { least_quality: number; lowered_because: string }) {
  lowered.value = to
  void begin()
}
watch([() => props.finger, at], () => void begin(), { immediate: true })
</script>

<template>
  <CapturePanel
    v-model="at"
    :picture="picture"
    :picture-words="t('fingers.picture')"
    :no-picture="capture?.presses.length ? t('fingers.noPicture') : ''"
    :at-words="t('fingers.at')"
    :places="places"
    :reader="reader"
    :refused="refused"
    :accept="at === FILES ? 'image/png,.png,.fmr,.iso' : undefined"
    :is-busy="isBusy"
    :is-ready="!!capture"
    @files="sendAll"
    @again="begin"
    @cancel="emit('cancel')"
  >
    <b v-if="reader">{{ t('fingers.lay', { finger: t(`fingers.names.${finger}`), reader: reader.name }) }}</b>
    <p v-else class="quiet">{{ t('fingers.files') }}</p>
    <PressLine v-if="capture" :capture="capture" />
    <template #acts>
      <LowerQuality v-if="capture" :least="capture.least_quality" :is-lowered="!!lowered" @lower="lower" />
    </template>
  </CapturePanel>
</template>
