<script setup lang="ts">
import { X } from '@lucide/vue'
import Button from 'primevue/button'

import { t } from '@/words'

/** Takes one row away; `told` says which to whoever cannot see it. */
defineProps<{ told: string }>()
const emit = defineEmits<{ remove: [] }>()
</script>

<template>
  <Button
    size="small"
    severity="secondary"
    :title="t('common.remove')"
    :aria-label="told"
    @click="emit('remove')"
  >
    <X :size="14" aria-hidden="true" />
  </Button>
</template>
