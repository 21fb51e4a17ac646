<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'

import type { Factor } from '@/kit/said/factors'
import { t } from '@/words'

/** The end of a sentence that can go on: and …, or … with one factor more. */
const props = defineProps<{ word: 'and' | 'or'; label: string; factors: Factor[] }>()
const emit = defineEmits<{ chosen: [factor: Factor] }>()

const options = computed(() => props.factors.map((value) => ({ value, word: t(`factors.${value}`) })))
</script>

<template>
  <Select
    size="small"
    class="more"
    :model-value="null"
    :options="options"
    option-label="word"
    option-value="value"
    :placeholder="`${t(`factors.${word}`)} …`"
    :aria-label="label"
    @update:model-value="emit('chosen', $event)"
  />
</template>

<style scoped>
.more {
  width: 92px;
}
</style>
