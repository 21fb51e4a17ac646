<script setup lang="ts">
import type { Problem } from '@/api/client'
import { t } from '@/words'

import InstantField from './InstantField.vue'

/** From when until when: at once, and for good, where nothing is said. */
defineProps<{ at: (field: string) => Problem[] }>()
const from = defineModel<string | null>('from', { required: true })
const until = defineModel<string | null>('until', { required: true })
</script>

<template>
  <InstantField
    v-model="from"
    :label="t('access.from')"
    :empty="t('questions.now')"
    :problems="at('activation_at')"
  />
  <InstantField
    v-model="until"
    :label="t('doing.until')"
    is-end
    :empty="t('access.noEnd')"
    :problems="at('expiry_at')"
  />
</template>
