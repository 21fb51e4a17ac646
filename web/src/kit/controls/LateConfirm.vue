<script setup lang="ts">
import ConfirmationEventBus from 'primevue/confirmationeventbus'
import type { ConfirmationOptions } from 'primevue/confirmationoptions'
import { useToast } from 'primevue/usetoast'
import { type Component, nextTick, onMounted, shallowRef } from 'vue'

import { t } from '@/words'

/** The dialogue that asks before something is done: fetched when something is asked for the first time. */
const toast = useToast()
const dialogue = shallowRef<Component | null>(null)

async function fetchAndAsk(options: ConfirmationOptions) {
  try {
    const found = await import('primevue/confirmdialog')
    ConfirmationEventBus.off('confirm', ask)
    dialogue.value = found.default
    await nextTick()
    // it listens now
    ConfirmationEventBus.emit('confirm', options)
  } catch {
    toast.add({
      severity: 'error',
      summary: t('frame.notLoaded'),
      detail: t('frame.notLoadedHint'),
      life: 8000,
    })
  }
}
const ask = (options: ConfirmationOptions) => void fetchAndAsk(options)
onMounted(() => ConfirmationEventBus.on('confirm', ask))
</script>

<template>
  <component :is="dialogue" v-if="dialogue" :style="{ width: '440px' }" />
</template>
