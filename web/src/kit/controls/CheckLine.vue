<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { useId } from 'vue'

/** A word to tick, on a line of its own. */
defineProps<{ label: string; disabled?: boolean }>()
const isOn = defineModel<boolean>({ required: true })
const id = useId()
</script>

<template>
  <div class="check">
    <Checkbox v-model="isOn" :input-id="id" binary size="small" :disabled="disabled" />
    <label :for="id">{{ label }}</label>
  </div>
</template>

<style scoped>
.check {
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
