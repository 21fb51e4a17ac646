<script setup lang="ts">
import Button from 'primevue/button'

import { t } from '@/words'

import type { Shared } from './sharing'

/** Whom somebody new shares their department, groups and dates with, and the way to an empty page. */
defineProps<{ shared: Shared }>()
const emit = defineEmits<{ beginEmpty: [] }>()
</script>

<template>
  <div class="notice" role="status">
    <p>{{ t('file.sharedWith', { name: shared.name }) }}</p>
    <Button
      size="small"
      severity="secondary"
      variant="text"
      :label="t('file.beginEmpty')"
      @click="emit('beginEmpty')"
    />
  </div>
</template>
