<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref, watch } from 'vue'

import { t } from '@/words'

import Field from './Field.vue'
import { letGo } from './let-go'
import { type FoundPerson, useFoundPeople, wordsOf } from '@/kit/state/found-people'

/** A cardholder, found as one types. */
defineProps<{ label: string }>()
const id = defineModel<number | null>({ required: true })
const typed = ref<string | FoundPerson>('')
const { found, box } = useFoundPeople((one) => {
  typed.value = one
  letGo()
})
watch(typed, (one) => (id.value = typeof one === 'object' && one ? one.id : null))
watch(
  id,
  async (known) => {
    // one that was given and not typed: an address names people by their ids
    if (known === null || (typeof typed.value === 'object' && typed.value?.id === known)) return
    const words = await wordsOf(known)
    if (words !== null && id.value === known) typed.value = { id: known, words }
  },
  { immediate: true },
)
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
      v-bind="box"
    />
  </Field>
</template>
