<script setup lang="ts">
import { computed } from 'vue'

import { t } from '@/words'

import type { Answer } from './questions'

/** What was changed since an instant of the past, and is taken to have been as it is now. */
const props = defineProps<{ what: Answer['as_now'] }>()
const words = computed(() => props.what.map((one) => t(`questions.what.${one}`)).join(', '))
</script>

<template>
  <p v-if="what.length" class="quiet">{{ t('questions.asNow', { what: words }) }}</p>
</template>
