<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'

import type { Problem } from '@/api/client'

import DayPicker from './DayPicker.vue'
import Field from '@/kit/controls/Field.vue'
import { dayHint, readDay, understoodDay, writtenDay } from './days'

/** A day without a time, such as a date of birth; kept as ISO 8601 writes it, null for none. */
defineProps<{ label: string; hint?: string; problems?: Problem[] }>()
const day = defineModel<string | null>({ required: true })

const written = ref('')
const unreadable = ref(false)
watch(
  day,
  (value) => {
    if (value === readDay(written.value)) return
    written.value = writtenDay(value)
    unreadable.value = false
  },
  { immediate: true },
)
const understood = computed(() => {
  const found = readDay(written.value)
  return found && !unreadable.value ? understoodDay(found) : ''
})
function picked(found: string) {
  written.value = writtenDay(found)
  typed()
}
function typed() {
  const value = readDay(written.value)
  unreadable.value = value === undefined
  if (value === undefined) return
  written.value = writtenDay(value)
  day.value = value
}
</script>

<template>
  <Field
    v-slot="{ id, describedBy, invalid }"
    :label="label"
    :hint="understood || hint"
    :problems="unreadable ? [{ code: 'input.day', field: null, params: {} }] : problems"
  >
    <DayPicker :label="label" :day="readDay(written) ?? null" @pick="picked">
      <InputText
        :id="id"
        v-model="written"
        size="small"
        class="day"
        autocomplete="off"
        :placeholder="dayHint()"
        :invalid="invalid"
        :aria-describedby="describedBy"
        @change="typed"
      />
    </DayPicker>
  </Field>
</template>

<style scoped>
.day {
  width: 100%;
}
</style>
