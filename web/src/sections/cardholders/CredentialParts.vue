<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { CardDraft, FileDraft, House, Problem, Read } from '@/api/client'
import type { NextRead } from '@/kit/state/next-read'
import { under } from '@/kit/state/parts'

import CardsPart from './cards/CardsPart.vue'
import CredentialList from './CredentialList.vue'
import CardsSeen from './cards/CardsSeen.vue'
import type { Credential } from './credentials'
import BiometricsPart from './fingers/BiometricsPart.vue'
import type { Finger } from './fingers/fingers'
import PinsPart from './pins/PinsPart.vue'
import PlatesPart from './PlatesPart.vue'

/** What opens doors for a cardholder: cards, PINs, and licence plates where a reader sees them. */
const props = defineProps<{
  id: number | null
  choices: House
  mayIssue: boolean
  problems: Problem[]
  awaited: NextRead
  older: Read | null
  saved: CardDraft[]
}>()
const draft = defineModel<FileDraft>({ required: true })
const onlyToday = defineModel<boolean>('onlyToday', { required: true })
const emit = defineEmits<{
  read: [read: Read]
  use: []
  add: [card: CardDraft]
  changed: []
  goTo: [part: string]
}>()

const takesBiometrics = computed(() =>
  props.choices.readers.some((reader) => reader.has_finger_scanner || reader.has_face_reader),
)
const finger = ref<Finger | null>(null)
async function open(credential: Credential) {
  if (credential.finger) finger.value = credential.finger
  await nextTick()
  emit('goTo', credential.part)
}
const readsPlates = computed(() => props.choices.readers.some((reader) => reader.has_camera))
</script>

<template>
  <CredentialList :id="id" :draft="draft" :by-card-alone="!!draft.biometrics?.card_alone" @open="open" />
  <CardsPart
    v-if="mayIssue"
    v-model="draft.cards"
    v-model:only-today="onlyToday"
    :formats="choices.formats"
    :problems="under(problems, 'cards')"
    :awaited="awaited"
    :older="older"
    :saved="saved"
    @read="emit('read', $event)"
    @use="emit('use')"
    @add="emit('add', $event)"
  />
  <CardsSeen v-else :id="id" :cards="draft.cards" :formats="choices.formats" @changed="emit('changed')" />
  <PinsPart
    v-if="mayIssue"
    v-model="draft.pins"
    :readers="choices.readers"
    :length="choices.pin_length"
    :can-mail="choices.can_mail"
    :email="draft.email"
    :problems="under(problems, 'pins')"
  />
  <PlatesPart
    v-if="mayIssue && (readsPlates || draft.plates.length)"
    v-model="draft.plates"
    :problems="problems"
  />
  <BiometricsPart
    v-if="
      draft.biometrics &&
      (takesBiometrics || draft.biometrics.fingers?.length || draft.biometrics.faces?.length)
    "
    :id="id"
    v-model="draft.biometrics"
    v-model:finger="finger"
    :portrait="draft.images?.[0] ?? null"
    :readers="choices.readers"
    :problems="under(problems, 'biometrics')"
    @changed="emit('changed')"
  />
</template>
