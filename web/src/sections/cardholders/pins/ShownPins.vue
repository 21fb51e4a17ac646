<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'

import { t } from '@/words'

/** PINs that were made up, shown this once: to be read out, or printed as slips. */
defineProps<{ name: string; number: string; pins: { label: string; digits: string }[] }>()
const emit = defineEmits<{ close: [] }>()
const print = () => window.print()
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('pins.shownOnce', pins.length)"
    :style="{ width: '380px' }"
    @update:visible="emit('close')"
  >
    <div class="slip to-print">
      <p>
        {{ name }} <span class="quiet mono">{{ number }}</span>
      </p>
      <p v-for="pin in pins" :key="pin.digits">
        <span v-if="pin.label" class="quiet">{{ pin.label }} </span><b class="mono">{{ pin.digits }}</b>
      </p>
    </div>
    <p class="quiet">{{ t('pins.neverAgain') }}</p>
    <template #footer>
      <Button size="small" severity="secondary" :label="t('pins.print')" @click="print" />
      <Button size="small" :label="t('common.close')" @click="emit('close')" />
    </template>
  </Dialog>
</template>

<style scoped>
.slip {
  padding: 10px 14px;
  margin-bottom: 10px;
  border: 1px solid var(--p-cadrin-hairline);
}
b {
  font-size: 28px;
  letter-spacing: 0.12em;
}
</style>
