<script setup lang="ts">
import DatePicker from 'primevue/datepicker'
import { nextTick, onMounted, useTemplateRef } from 'vue'

/** A month to pick a day from, with the mouse or with the arrow keys. */
defineProps<{ day: Date | null }>()
const emit = defineEmits<{ pick: [day: Date] }>()
/** A day is a button, and what can be read on a button is its name: the library says it otherwise. */
const looks = {
  panel: { style: 'border: 0; padding: 0' },
  day: { role: 'button', 'aria-selected': null },
  selectMonth: { 'aria-label': null },
  selectYear: { 'aria-label': null },
}
const box = useTemplateRef('box')
onMounted(async () => {
  await nextTick()
  const days = '.p-datepicker-day'
  const at = box.value?.querySelector<HTMLElement>(`${days}-selected`)
  ;(at ?? box.value?.querySelector<HTMLElement>(`.p-datepicker-today ${days}`))?.focus()
})
</script>

<template>
  <div ref="box">
    <DatePicker
      :model-value="day"
      inline
      show-other-months
      select-other-months
      :pt="looks"
      @update:model-value="emit('pick', $event as Date)"
    />
  </div>
</template>
