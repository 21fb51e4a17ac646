<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'

import type { House, Problem } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import FingerCapture from './FingerCapture.vue'
import FingerExport from './FingerExport.vue'
import type { Capture, Finger, FingerDraft, Template } from './fingers'
import TemplateTerms from './TemplateTerms.vue'

/** One finger: what is known of it, and taking it. */
const props = defineProps<{
  id: number | null
  finger: Finger
  template: Template | undefined
  capture: Capture | undefined
  hasConsent: boolean
  readers: House['readers']
  problems: Problem[]
}>()
const draft = defineModel<FingerDraft | undefined>('draft', { required: true })
const emit = defineEmits<{ taken: [capture: Capture]; remove: [] }>()

const session = useSession()
const may = session.may('biometrics')
const isTaking = ref(false)
const isGivingOut = ref(false)
const MATCHES = ['finger.of_another', 'finger.of_another_elsewhere', 'finger.same_as_known']
const isMatch = computed(() => props.problems.some((one) => MATCHES.includes(one.code)))
const whose = computed(() => props.capture?.whose.find((one) => one.holder_id && !one.is_same_person))
const at = (field: string) => props.problems.filter((one) => one.field === field)
const ofAll = computed(() => props.problems.filter((one) => one.field === null || one.field === 'capture'))

function taken(capture: Capture) {
  isTaking.value = false
  emit('taken', capture)
}
</script>

<template>
  <div class="panel">
    <div class="row head">
      <b class="name">{{ t(`fingers.names.${finger}`) }}</b>
      <span v-if="draft?.capture" class="quiet">
        {{ t('fingers.notSaved')
        }}<template v-if="capture?.quality"
          >, {{ t('fingers.quality', { quality: capture.quality }) }}</template
        >
      </span>
      <span v-else-if="template" class="quiet">
        {{ t('fingers.quality', { quality: template.quality }) }},
        {{ t('fingers.takenBy', { when: whenWords(template.taken_at), name: template.taken_by }) }}
      </span>
      <b v-if="draft?.is_duress">{{ t('fingers.isDuress') }}</b>
    </div>
    <FingerCapture
      v-if="isTaking"
      :id="id"
      :finger="finger"
      :readers="readers"
      @taken="taken"
      @cancel="isTaking = false"
    />
    <template v-else>
      <div v-if="may" class="row acts">
        <Button
          size="small"
          data-first
          :severity="draft ? 'secondary' : undefined"
          :label="t(draft ? 'fingers.takeAnew' : 'fingers.take')"
          :disabled="!hasConsent"
          @click="isTaking = true"
        />
        <Button
          v-if="draft"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('fingers.remove')"
          @click="emit('remove')"
        />
        <Button
          v-if="id !== null && template && session.may('templates')"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('fingers.export')"
          @click="isGivingOut = true"
        />
      </div>
      <FieldProblem id="finger-problem" :problems="ofAll" />
      <RouterLink v-if="isMatch && whose" :to="{ name: 'cardholder', params: { id: whose.holder_id } }">{{
        whose.holder_name
      }}</RouterLink>
      <fieldset v-if="draft" class="fields" :disabled="!may">
        <label
          v-if="(isMatch || draft.despite_match) && session.may('lower_quality')"
          class="row"
          for="finger-despite"
        >
          <Checkbox v-model="draft.despite_match" binary input-id="finger-despite" />
          {{ t('fingers.isAnother') }}
        </label>
        <TemplateTerms v-model="draft" :problems="problems" />
        <label class="row" for="finger-duress">
          <Checkbox v-model="draft.is_duress" binary input-id="finger-duress" />
          {{ t('fingers.duress') }}
        </label>
        <FieldProblem id="finger-duress-problem" :problems="at('is_duress')" />
      </fieldset>
    </template>
    <FingerExport
      v-if="isGivingOut && id !== null && template"
      :id="id"
      :template="template"
      @close="isGivingOut = false"
    />
  </div>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
}
.head {
  flex-wrap: wrap;
}
.name::first-letter {
  text-transform: uppercase;
}
.acts {
  flex-wrap: wrap;
}
.fields {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 0;
  border: 0;
}
</style>
