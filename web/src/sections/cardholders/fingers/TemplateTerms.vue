<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { useId } from 'vue'

import type { Problem } from '@/api/client'
import InstantField from '@/kit/time/InstantField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { FaceDraft, FingerDraft } from './fingers'

/** When a finger or a face counts: its label, its time, and whether it is suspended. */
const props = defineProps<{ problems: Problem[] }>()
const one = defineModel<FingerDraft | FaceDraft>({ required: true })

const id = useId()
const at = (field: string) => props.problems.filter((problem) => problem.field === field)
const instant = (field: 'activation_at' | 'expiry_at') => one.value[field] ?? null
</script>

<template>
  <div class="terms">
    <TextField v-model="one.label" class="label" :label="t('cardTerms.label')" :problems="at('label')" />
    <InstantField
      :model-value="instant('activation_at')"
      :label="t('file.cardFrom')"
      :empty="t('common.atOnce')"
      @update:model-value="one.activation_at = $event"
    />
    <InstantField
      :model-value="instant('expiry_at')"
      is-end
      :label="t('fingers.goesAt')"
      :empty="t('common.noEnd')"
      :problems="at('expiry_at')"
      @update:model-value="one.expiry_at = $event"
    />
    <label class="row" :for="`${id}-suspended`">
      <Checkbox v-model="one.is_suspended" binary :input-id="`${id}-suspended`" />
      {{ t('fingers.suspended') }}
    </label>
  </div>
</template>

<style scoped>
.terms {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 12px;
}
.terms > .row {
  min-height: 30px;
}
.label {
  width: 150px;
}
</style>
