<script setup lang="ts">
import { provide } from 'vue'

import { isOnlySeen } from '@/kit/state/only-seen'

/** Fields that only some may change: others read them, and nothing in them can be pressed or typed into. */
const props = defineProps<{ may: boolean }>()
provide(isOnlySeen, !props.may)
</script>

<template>
  <slot v-if="may" />
  <fieldset v-else disabled class="only-seen"><slot /></fieldset>
</template>

<style scoped>
.only-seen {
  /* what is around it lays out what is in it, as it does where it can be changed */
  display: contents;
}
.only-seen :deep(:is(input, textarea):disabled) {
  background: transparent;
  border-color: var(--p-cadrin-hairline);
  color: var(--p-cadrin-ink);
  opacity: 1;
}
/* choices of the component library are no form elements, which alone a fieldset shuts */
.only-seen :deep(:has(> [role='combobox'])) {
  pointer-events: none;
  background: transparent;
  border-color: var(--p-cadrin-hairline);
}
.only-seen :deep([role='combobox'] ~ :is(svg, [aria-hidden], [data-p])) {
  visibility: hidden;
}
</style>
