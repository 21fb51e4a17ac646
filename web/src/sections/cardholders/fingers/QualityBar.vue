<script setup lang="ts">
/** A quality from 0 to 100, and the least that is asked. */
defineProps<{ quality: number; least: number }>()
</script>

<template>
  <div class="bar" aria-hidden="true">
    <span class="fill" :class="{ poor: quality < least }" :style="{ width: `${quality}%` }"></span>
    <span class="tick" :style="{ left: `${least}%` }"></span>
  </div>
</template>

<style scoped>
.bar {
  position: relative;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 5px;
  background: var(--p-cadrin-sheet);
}
.fill {
  display: block;
  height: 100%;
  border-radius: 5px;
  background: var(--p-cadrin-teal);
}
.poor {
  background: var(--p-cadrin-lit);
}
.tick {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--p-cadrin-ink);
}
</style>
