<script setup lang="ts">
import InputNumber from 'primevue/inputnumber'

import type { Problem } from '@/api/client'

import Field from './Field.vue'

/** A labelled whole number with its problem beneath; empty is null. */
defineProps<{
  label: string
  problems?: Problem[]
  hint?: string
  min?: number
  max?: number
  placeholder?: string
  /** Digits behind the point. */
  digits?: number
}>()
const value = defineModel<number | null>({ required: true })
</script>

<template>
  <Field v-slot="{ id, invalid, describedBy }" :label="label" :problems="problems" :hint="hint">
    <InputNumber
      v-model="value"
      :input-id="id"
      size="small"
      class="number"
      :min="min"
      :max="max"
      :min-fraction-digits="digits"
      :max-fraction-digits="digits"
      :use-grouping="false"
      :placeholder="placeholder"
      :invalid="invalid"
      :aria-describedby="describedBy"
    />
  </Field>
</template>

<style scoped>
.number,
.number :deep(input) {
  width: 100%;
}
</style>
