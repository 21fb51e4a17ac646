<script setup lang="ts">
import type { Problem } from '@/api/client'
import { wordsFor } from '@/words'

/** What is wrong, beside its field. Give the field `aria-describedby` the same id. */
defineProps<{ id: string; problems: Problem[] }>()
</script>

<template>
  <p v-if="problems.length" :id="id" class="problem denied" role="alert">
    {{ problems.map(wordsFor).join(' ') }}
  </p>
</template>

<style scoped>
.problem {
  font-size: 12px;
  line-height: 1.3;
  margin-top: 2px;
}
</style>
