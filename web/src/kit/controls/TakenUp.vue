<script setup lang="ts">
import { t } from '@/words'
</script>

<template>
  <p class="taken" role="status">{{ t('common.takenUp') }}</p>
</template>

<style scoped>
.taken {
  margin-bottom: 6px;
  padding: 4px 8px;
  background: var(--p-cadrin-amber-paper);
}
</style>
