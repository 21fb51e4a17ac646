<script setup lang="ts">
import { Check, Copy } from '@lucide/vue'
import { useClipboard } from '@vueuse/core'

import { t } from '@/words'

/** Copies something that is needed elsewhere: a number, bits, a key. */
const props = defineProps<{ text: string }>()
// a page without TLS has no clipboard of the newer kind
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <button type="button" class="copy" :title="t('common.copy')" @click="copy(props.text)">
    <component :is="copied ? Check : Copy" :size="13" aria-hidden="true" />
    <span class="unseen" aria-live="polite">{{
      copied ? t('common.copied') : t('common.copyOf', { text })
    }}</span>
  </button>
</template>

<style scoped>
.copy {
  padding: 0 4px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
.copy:hover {
  background: var(--p-cadrin-teal-paper);
}
</style>
