<script setup lang="ts">
/** Fields that only some may change: others read them, and nothing in them can be pressed or typed into. */
defineProps<{ may: boolean }>()
</script>

<template>
  <slot v-if="may" />
  <fieldset v-else disabled class="only-seen"><slot /></fieldset>
</template>

<style scoped>
.only-seen {
  min-width: 0;
  margin: 0;
  padding: 0;
  border: 0;
}
/* choices of the component library are no form elements, which alone a fieldset shuts */
.only-seen :deep(.p-select),
.only-seen :deep(.p-multiselect),
.only-seen :deep(.p-autocomplete),
.only-seen :deep(.p-togglebutton) {
  pointer-events: none;
  opacity: 0.75;
}
</style>
