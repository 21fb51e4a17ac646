<script setup lang="ts">
import DatePicker from 'primevue/datepicker'

/** A month to pick a day from. */
defineProps<{ day: Date | null }>()
const emit = defineEmits<{ pick: [day: Date] }>()
</script>

<template>
  <DatePicker
    :model-value="day"
    inline
    show-other-months
    @update:model-value="emit('pick', $event as Date)"
  />
</template>
