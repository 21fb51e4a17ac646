<script setup lang="ts">
import type { FunctionalComponent } from 'vue'

/** Names of people in columns, each with what can be done about them, and what else is said of them. */
defineProps<{
  people: { cardholder_id: number; name: string }[]
  icon: FunctionalComponent
  /** What the button does, for one of them. */
  does: (name: string) => string
  mayAct: boolean
  isBusy: boolean
}>()
const emit = defineEmits<{ act: [cardholder: number, name: string] }>()
</script>

<template>
  <ul>
    <li v-for="one in people" :key="one.cardholder_id" class="one-line">
      <button
        v-if="mayAct"
        type="button"
        :title="does(one.name)"
        :aria-label="does(one.name)"
        :disabled="isBusy"
        @click="emit('act', one.cardholder_id, one.name)"
      >
        <component :is="icon" :size="12" aria-hidden="true" />
      </button>
      <RouterLink :to="{ name: 'cardholder', params: { id: one.cardholder_id }, hash: '#access' }">{{
        one.name
      }}</RouterLink>
      <slot :id="one.cardholder_id" />
    </li>
  </ul>
</template>

<style scoped>
ul {
  columns: 3 180px;
  margin-top: 6px;
}
a {
  display: inline-block;
  padding: 3px 0;
}
button {
  min-width: 24px;
  min-height: 24px;
  padding: 4px;
  border: 0;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
button:hover {
  color: var(--p-cadrin-brick);
}
ul :slotted(span) {
  margin-left: 6px;
}
</style>
