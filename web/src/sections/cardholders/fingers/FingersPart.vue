<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import type { House, Problem } from '@/api/client'
import { whenWords } from '@/kit/clock'
import FieldProblem from '@/kit/FieldProblem.vue'
import { under } from '@/kit/parts'
import { t } from '@/words'

import CardAloneField from './CardAloneField.vue'
import ConsentPart from './ConsentPart.vue'
import FingerPanel from './FingerPanel.vue'
import { type Biometrics, biometricsOf, type Capture, type Finger, FINGERS, isInForce } from './fingers'
import HandsDrawing, { type FingerShown } from './HandsDrawing.vue'

/** Fingers of a cardholder: consent first, then each finger by itself, and who goes without. */
const props = defineProps<{ id: number | null; readers: House['readers']; problems: Problem[] }>()
const theirs = defineModel<Biometrics>({ required: true })
const emit = defineEmits<{ changed: [] }>()

const POOR = 60
const { data: kept } = useQuery({ ...biometricsOf(() => props.id), enabled: props.id !== null })
const chosen = ref<Finger | null>(null)
/** What was taken on this page and is not saved yet, by its token. */
const taken = ref<Record<string, Capture>>({})

const fingers = computed(() => theirs.value.fingers ?? [])
const place = computed(() => fingers.value.findIndex((one) => one.finger === chosen.value))
const hasConsent = computed(
  () =>
    (theirs.value.new_consent?.factors.includes('finger') ?? false) ||
    (kept.value?.consents ?? []).some(isInForce),
)
const templateOf = (id: number | null | undefined) => kept.value?.templates.find((one) => one.id === id)

function shownAs(finger: Finger): FingerShown {
  const name = t(`fingers.names.${finger}`)
  const draft = fingers.value.find((one) => one.finger === finger)
  if (!draft) return { words: t('fingers.free', { finger: name }), quality: null, state: 'free' }
  if (draft.capture)
    return {
      words: t('fingers.unsaved', { finger: name }),
      quality: taken.value[draft.capture]?.quality ?? null,
      state: 'new',
    }
  const template = templateOf(draft.id)
  const quality = template?.quality ?? null
  return {
    words: t('fingers.enrolled', {
      finger: name,
      quality: quality ?? '',
      when: template ? whenWords(template.taken_at) : '',
    }),
    quality,
    state: quality !== null && quality < POOR ? 'poor' : 'kept',
  }
}
const shown = computed(
  () => Object.fromEntries(FINGERS.map((finger) => [finger, shownAs(finger)])) as Record<Finger, FingerShown>,
)

function use(capture: Capture) {
  taken.value[capture.token] = capture
  const now = fingers.value.find((one) => one.finger === capture.finger)
  if (now) Object.assign(now, { capture: capture.token, despite_match: false })
  else
    theirs.value.fingers = [
      ...fingers.value,
      {
        id: null,
        finger: capture.finger,
        label: '',
        is_duress: false,
        capture: capture.token,
        despite_match: false,
      },
    ]
}
function remove() {
  theirs.value.fingers = fingers.value.filter((one) => one.finger !== chosen.value)
}
const ofAll = computed(() => props.problems.filter((one) => one.field === 'fingers'))
</script>

<template>
  <section id="fingers" class="part" aria-labelledby="fingers-head">
    <h2 id="fingers-head">{{ t('fingers.title') }}</h2>
    <ConsentPart
      :id="id"
      v-model="theirs.new_consent"
      :consents="kept?.consents ?? []"
      :problems="under(problems, 'new_consent')"
      @changed="emit('changed')"
    />
    <div class="both">
      <HandsDrawing v-model="chosen" :shown="shown" />
      <FingerPanel
        v-if="chosen"
        :id="id"
        :key="chosen"
        v-model:draft="fingers[place]"
        :finger="chosen"
        :count="fingers.length"
        :template="templateOf(fingers[place]?.id)"
        :capture="taken[fingers[place]?.capture ?? '']"
        :has-consent="hasConsent"
        :readers="readers"
        :problems="under(problems, `fingers.${place}`)"
        @taken="use"
        @remove="remove"
      />
      <p v-else class="quiet hint">{{ t('fingers.about') }}</p>
    </div>
    <FieldProblem id="fingers-problem" :problems="ofAll" />
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
.both {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  margin: 8px 0;
}
.both > :first-child {
  flex: 0 1 300px;
}
.both > :last-child {
  flex: 1 1 260px;
}
.hint {
  align-self: center;
}
</style>
