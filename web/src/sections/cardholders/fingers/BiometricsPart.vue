<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { House, Problem } from '@/api/client'
import { under } from '@/kit/state/parts'
import { t } from '@/words'

import CardAloneField from './CardAloneField.vue'
import ConsentPart from './ConsentPart.vue'
import FacesPart from './FacesPart.vue'
import FingersPart from './FingersPart.vue'
import { type Biometrics, biometricsOf, type Finger, isInForce, type Taken } from './fingers'

/** Consent first, then fingers and faces as far as readers take them, and who goes without. */
const props = defineProps<{
  id: number | null
  portrait: string | null
  readers: House['readers']
  problems: Problem[]
}>()
const theirs = defineModel<Biometrics>({ required: true })
/** The finger that is open. */
const finger = defineModel<Finger | null>('finger', { required: true })
const emit = defineEmits<{ changed: [] }>()

const { data: kept } = useQuery({ ...biometricsOf(() => props.id), enabled: props.id !== null })
const templates = computed(() => kept.value?.templates ?? [])
const takes = computed(() => ({
  finger: props.readers.some((one) => one.has_finger_scanner) || !!theirs.value.fingers?.length,
  face: props.readers.some((one) => one.has_face_reader) || !!theirs.value.faces?.length,
}))
const offered = computed(() => (['finger', 'face'] as const).filter((factor) => takes.value[factor]))
const hasConsent = (factor: Taken) =>
  (theirs.value.new_consent?.factors.includes(factor) ?? false) ||
  (kept.value?.consents ?? []).some((consent) => isInForce(consent, factor))
const isAgreed = computed(() => ({ finger: hasConsent('finger'), face: hasConsent('face') }))
const title = computed(() =>
  takes.value.finger && takes.value.face
    ? t('faces.both')
    : t(takes.value.face ? 'faces.title' : 'fingers.title'),
)
</script>

<template>
  <section id="fingers" class="part" aria-labelledby="fingers-head">
    <h2 id="fingers-head">{{ title }}</h2>
    <ConsentPart
      :id="id"
      v-model="theirs.new_consent"
      :consents="kept?.consents ?? []"
      :offered="offered"
      :problems="under(problems, 'new_consent')"
      @changed="emit('changed')"
    />
    <FingersPart
      v-if="takes.finger"
      :id="id"
      v-model="theirs"
      v-model:chosen="finger"
      :readers="readers"
      :templates="templates"
      :has-consent="isAgreed.finger"
      :problems="problems"
    />
    <FacesPart
      v-if="takes.face"
      :id="id"
      v-model="theirs"
      :portrait="portrait"
      :readers="readers"
      :templates="templates"
      :has-consent="isAgreed.face"
      :problems="problems"
    />
    <CardAloneField v-model="theirs.card_alone" :problems="under(problems, 'card_alone')" />
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
h2 {
  margin-bottom: 6px;
}
</style>
