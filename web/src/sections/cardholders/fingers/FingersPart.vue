<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import type { House, Problem } from '@/api/client'
import { ageWords, whenWords } from '@/kit/time/clock'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { under } from '@/kit/state/parts'
import { biometricRules } from '@/sections/setup/queries'
import { t } from '@/words'

import FingerPanel from './FingerPanel.vue'
import { type Biometrics, type Capture, type Finger, FINGERS, NO_TERMS, type Template } from './fingers'
import HandsDrawing, { type FingerShown } from './HandsDrawing.vue'

/** The fingers of a cardholder on the drawing of two hands, each taken by itself. */
const props = defineProps<{
  id: number | null
  readers: House['readers']
  templates: Template[]
  hasConsent: boolean
  problems: Problem[]
}>()
const theirs = defineModel<Biometrics>({ required: true })

const { data: rules } = useQuery(biometricRules)
const chosen = defineModel<Finger | null>('chosen', { required: true })
/** What was taken on this page and is not saved yet, by its token. */
const taken = ref<Record<string, Capture>>({})

const fingers = computed(() => theirs.value.fingers ?? [])
const place = computed(() => fingers.value.findIndex((one) => one.finger === chosen.value))
const templateOf = (id: number | null | undefined) => props.templates.find((one) => one.id === id)

function shownAs(finger: Finger): FingerShown {
  const name = t(`fingers.names.${finger}`)
  const draft = fingers.value.find((one) => one.finger === finger)
  if (!draft) return { words: t('fingers.free', { finger: name }), quality: null, age: '', state: 'free' }
  if (draft.capture)
    return {
      words: t('fingers.unsaved', { finger: name }),
      quality: taken.value[draft.capture]?.quality ?? null,
      age: '',
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
    age: template ? ageWords(template.taken_at) : '',
    state: quality !== null && quality < (rules.value?.rule.least_quality ?? 0) ? 'poor' : 'kept',
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
        ...NO_TERMS,
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
  <div>
    <div class="both">
      <HandsDrawing v-model="chosen" :shown="shown" />
      <FingerPanel
        v-if="chosen"
        :id="id"
        :key="chosen"
        v-model:draft="fingers[place]"
        :finger="chosen"
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
  </div>
</template>

<style scoped>
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
