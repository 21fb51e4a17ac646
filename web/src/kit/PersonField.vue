<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref, watch } from 'vue'

import { client, unwrap } from '@/api/client'
import { t } from '@/words'

import Field from './Field.vue'

/** A cardholder, found as one types. */
defineProps<{ label: string }>()
const id = defineModel<number | null>({ required: true })
interface Found {
  id: number
  words: string
}
const typed = ref<string | Found>('')
const found = ref<Found[]>([])

async function find(text: string) {
  const rows = await unwrap(client.GET('/api/cardholders/find/', { params: { query: { text } } }))
  found.value = rows.map((one) => ({ id: one.id, words: `${one.display_name}  ${one.number}` }))
}
watch(typed, (one) => (id.value = typeof one === 'object' && one ? one.id : null))
</script>

<template>
  <Field v-slot="{ id: field }" :label="label">
    <AutoComplete
      v-model="typed"
      :input-id="field"
      :suggestions="found"
      option-label="words"
      size="small"
      auto-option-focus
      :delay="150"
      :placeholder="t('questions.ask')"
      @complete="find($event.query)"
    />
  </Field>
</template>
