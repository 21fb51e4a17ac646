<script setup lang="ts">
import ConfirmationEventBus from 'primevue/confirmationeventbus'
import type { ConfirmationOptions } from 'primevue/confirmationoptions'
import { type Component, nextTick, onMounted, shallowRef } from 'vue'

/** The dialogue that asks before something is done: fetched when something is asked for the first time. */
const dialogue = shallowRef<Component | null>(null)

function ask(options: ConfirmationOptions) {
  ConfirmationEventBus.off('confirm', ask)
  void import('primevue/confirmdialog').then(async (found) => {
    dialogue.value = found.default
    await nextTick()
    // it listens now
    ConfirmationEventBus.emit('confirm', options)
  })
}
onMounted(() => ConfirmationEventBus.on('confirm', ask))
</script>

<template>
  <component :is="dialogue" v-if="dialogue" :style="{ width: '440px' }" />
</template>
