<script setup lang="ts">
import ToggleSwitch from 'primevue/toggleswitch'
import { computed } from 'vue'

import { t } from '@/words'

/** Switch one of the stand-ins on or off. */
const props = defineProps<{ name: string }>()
const isOn = defineModel<boolean>({ required: true })
const words = computed(() => (isOn.value ? t('bench.on') : t('bench.off')))
</script>

<template>
  <span class="row">
    <span class="dim">{{ words }}</span>
    <ToggleSwitch v-model="isOn" :aria-label="`${props.name}: ${words}`" />
  </span>
</template>

<style scoped>
.dim {
  font-size: 12px;
  color: var(--p-cadrin-bar-quiet);
}
</style>
