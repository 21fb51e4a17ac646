<script setup lang="ts">
/** A list of which one line is chosen, each with a few quiet words about it. */
defineProps<{
  rows: { id: number; name: string; about: string; isQuiet?: boolean }[]
  chosen: number | 'new' | null
}>()
const emit = defineEmits<{ choose: [id: number] }>()
</script>

<template>
  <ul>
    <li v-for="row in rows" :key="row.id">
      <button
        type="button"
        :class="{ here: row.id === chosen, quiet: row.isQuiet }"
        :aria-current="row.id === chosen ? 'true' : undefined"
        @click="emit('choose', row.id)"
      >
        <span class="one-line">{{ row.name }}</span>
        <span class="quiet push about">{{ row.about }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
button {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  padding: 4px 8px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
button:hover,
.here {
  background: var(--p-cadrin-teal-paper);
}
.about {
  font-size: 13px;
  white-space: nowrap;
}
</style>
