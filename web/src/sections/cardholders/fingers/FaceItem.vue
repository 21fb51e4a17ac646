<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'

import type { Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import MayChange from '@/kit/controls/MayChange.vue'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import type { FaceCapture, FaceDraft } from './fingers'
import TemplateTerms from './TemplateTerms.vue'

/** One face: its quality and age, and what stands against it. */
const props = defineProps<{
  place: number
  capture: FaceCapture | undefined
  about: string
  quality: number | null
  problems: Problem[]
}>()
const face = defineModel<FaceDraft>({ required: true })
const emit = defineEmits<{ remove: [] }>()

const id = useId()
const session = useSession()
const may = session.may('biometrics')
const LOOKED_AT = ['face.of_another', 'face.of_another_elsewhere', 'face.another_face']
const isLookedAt = computed(() => props.problems.some((one) => LOOKED_AT.includes(one.code)))
const whose = computed(() => props.capture?.whose.find((one) => one.holder_id))
const ofAll = computed(() => props.problems.filter((one) => one.field === null || one.field === 'capture'))
</script>

<template>
  <li class="face">
    <div class="row">
      <b>{{ t('faces.place', { place: place + 1 }) }}</b>
      <span v-if="quality !== null">{{ t('fingers.quality', { quality }) }}</span>
      <span class="quiet">{{ about }}</span>
      <Button
        v-if="may"
        class="push"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('fingers.remove')"
        @click="emit('remove')"
      />
    </div>
    <MayChange :may="may"><TemplateTerms v-model="face" :problems="problems" /></MayChange>
    <FieldProblem :id="`${id}-problem`" :problems="ofAll" />
    <RouterLink v-if="isLookedAt && whose" :to="{ name: 'cardholder', params: { id: whose.holder_id } }">{{
      whose.holder_name
    }}</RouterLink>
    <label
      v-if="(isLookedAt || face.despite_match) && session.may('lower_quality')"
      class="row"
      :for="`${id}-despite`"
    >
      <Checkbox v-model="face.despite_match" binary :input-id="`${id}-despite`" />
      {{ t('faces.isAnother') }}
    </label>
  </li>
</template>

<style scoped>
.face {
  padding: 4px 0;
}
.face .row {
  flex-wrap: wrap;
}
</style>
