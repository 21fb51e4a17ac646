<script setup lang="ts">
import Button from 'primevue/button'
import { useClipboard } from '@vueuse/core'

import { t } from '@/words'

/** A secret that is shown this once, to be copied. */
const props = defineProps<{ hint: string; text: string }>()
const { copy, copied } = useClipboard({ legacy: true, copiedDuring: 60_000 })
</script>

<template>
  <div class="once" role="status">
    <p>{{ hint }}</p>
    <p class="mono text">{{ text }}</p>
    <Button
      size="small"
      severity="secondary"
      :label="copied ? t('common.copied') : t('common.copy')"
      @click="copy(props.text)"
    />
  </div>
</template>

<style scoped>
.once {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 6px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.text {
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
