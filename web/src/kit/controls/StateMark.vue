<script setup lang="ts">
/** A state as a word and a shape, never a colour alone. */
export type Shape = 'disc' | 'ring' | 'half' | 'bar' | 'cross' | 'dash'

defineProps<{ shape: Shape; word: string; isWordHidden?: boolean }>()
</script>

<template>
  <span class="mark" :class="shape">
    <svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true">
      <circle v-if="shape === 'disc'" cx="6" cy="6" r="5" class="fill" />
      <circle v-else-if="shape === 'ring'" cx="6" cy="6" r="4.2" class="line" />
      <template v-else-if="shape === 'half'">
        <circle cx="6" cy="6" r="4.2" class="line" />
        <path d="M6 1.8 A4.2 4.2 0 0 0 6 10.2 Z" class="fill" />
      </template>
      <rect v-else-if="shape === 'bar'" x="1" y="4" width="10" height="4" class="fill" />
      <path v-else-if="shape === 'cross'" d="M2 2 L10 10 M10 2 L2 10" class="line thick" />
      <path v-else d="M2 6 H10" class="line" />
    </svg>
    <span :class="isWordHidden ? 'unseen' : 'word'">{{ word }}</span>
  </span>
</template>

<style scoped>
.mark {
  /* its hidden word stays where it is, and makes nothing around it scroll */
  position: relative;
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
  color: var(--p-cadrin-ink);
}
svg {
  flex: none;
}
.word {
  overflow: hidden;
  text-overflow: ellipsis;
}
.fill {
  fill: currentcolor;
}
.line {
  fill: none;
  stroke: currentcolor;
  stroke-width: 1.6;
}
.thick {
  stroke-width: 2.4;
}
.disc svg {
  color: var(--p-cadrin-teal);
}
.cross,
.cross svg {
  color: var(--p-cadrin-brick);
}
.dash,
.dash svg {
  color: var(--p-cadrin-quiet);
}
</style>
