<script setup lang="ts">
import { useId } from 'vue'

import type { Problem } from '@/api/client'

import FieldProblem from './FieldProblem.vue'

/** A labelled field with its problem beneath; the slot gets the ids to bind. */
const props = defineProps<{ label: string; problems?: Problem[]; hint?: string }>()
const id = useId()
const describedBy = () => (props.problems?.length ? `${id}-problem` : undefined)
</script>

<template>
  <div class="field">
    <label :id="`${id}-label`" :for="id">{{ label }}</label>
    <slot :id="id" :label-id="`${id}-label`" :described-by="describedBy()" :invalid="!!problems?.length" />
    <p v-if="hint" class="hint quiet">{{ hint }}</p>
    <FieldProblem :id="`${id}-problem`" :problems="problems ?? []" />
  </div>
</template>

<style scoped>
.field {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
label {
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.hint {
  font-size: 12px;
}
</style>
