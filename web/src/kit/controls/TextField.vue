<script setup lang="ts">
import InputText from 'primevue/inputtext'

import type { Problem } from '@/api/client'

import Field from './Field.vue'

/** A labelled line of text with its problem beneath. */
defineProps<{
  label: string
  problems?: Problem[]
  hint?: string
  type?: 'text' | 'password' | 'email'
  autocomplete?: string
  isMono?: boolean
  disabled?: boolean
}>()
const text = defineModel<string>({ required: true })
</script>

<template>
  <Field v-slot="{ id, describedBy, invalid }" :label="label" :problems="problems" :hint="hint">
    <InputText
      :id="id"
      v-model="text"
      size="small"
      :type="type ?? 'text'"
      :autocomplete="autocomplete ?? 'off'"
      :class="{ mono: isMono }"
      :disabled="disabled"
      :invalid="invalid"
      :aria-describedby="describedBy"
    />
  </Field>
</template>
