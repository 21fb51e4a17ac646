<script setup lang="ts">
/** One place in the tree of them. */
defineProps<{ name: string; more?: string; depth: number; isHere: boolean }>()
const emit = defineEmits<{ open: [] }>()
</script>

<template>
  <li>
    <button
      type="button"
      :class="{ here: isHere, top: depth === 0 }"
      :style="{ paddingLeft: `${8 + depth * 16}px` }"
      :aria-current="isHere || undefined"
      @click="emit('open')"
    >
      <span class="one-line">{{ name }}</span>
      <span class="quiet push one-line">{{ more }}</span>
    </button>
  </li>
</template>

<style scoped>
button {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  padding: 3px 8px;
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
.top span:first-child {
  font-weight: 600;
}
</style>
