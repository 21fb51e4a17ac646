<script setup lang="ts" generic="T">
import Select from 'primevue/select'

import type { Problem } from '@/api/client'

import Field from './Field.vue'
import { letGo } from './let-go'

/** A labelled choice with its problem beneath. */
defineProps<{
  label: string
  options: readonly object[]
  optionLabel?: string
  optionValue?: string
  problems?: Problem[]
  hint?: string
  filter?: boolean
  showClear?: boolean
  placeholder?: string
  disabled?: boolean
}>()
const value = defineModel<T>({ required: true })
</script>

<template>
  <Field v-slot="{ labelId, invalid }" :label="label" :problems="problems" :hint="hint">
    <Select
      v-model="value"
      :options="[...options]"
      :option-label="optionLabel ?? 'word'"
      :option-value="optionValue ?? 'value'"
      size="small"
      :filter="filter"
      :show-clear="showClear"
      :placeholder="placeholder"
      :disabled="disabled"
      :invalid="invalid"
      :aria-labelledby="labelId"
      @update:model-value="letGo"
    />
  </Field>
</template>
