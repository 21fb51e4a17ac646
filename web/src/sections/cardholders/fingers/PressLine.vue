<script setup lang="ts">
import { computed } from 'vue'

import { t, wordsFor } from '@/words'

import type { Capture } from './fingers'
import QualityBar from './QualityBar.vue'

/** How far a finger is, large enough for whoever stands at the counter, and what the last press was like. */
const props = defineProps<{ capture: Capture }>()
const last = computed(() => props.capture.presses.at(-1))
const said = computed(() => {
  if (!last.value) return ''
  const { problem, advice } = last.value
  const todo = advice ? t(`fingers.advice.${advice}`) : ''
  if (!problem) return todo || t('fingers.good')
  return [t('fingers.notTaken', { why: wordsFor(problem) }), todo].filter(Boolean).join(' ')
})
</script>

<template>
  <p class="progress">
    <span
      v-for="place in capture.wanted"
      :key="place"
      class="dot"
      :class="{ there: place <= capture.taken }"
    ></span>
    {{ t('fingers.progress', { taken: capture.taken, wanted: capture.wanted }) }}
  </p>
  <QualityBar v-if="last" :quality="last.quality" :least="capture.least_quality" />
  <p v-if="last" role="status" :class="{ denied: last.problem }">
    <span class="row">
      <b>{{ t('fingers.quality', { quality: last.quality }) }}</b>
      <span class="quiet">{{ t('fingers.least', { least: capture.least_quality }) }}</span>
    </span>
    {{ said }}
  </p>
</template>

<style scoped>
.progress {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 17px;
}
.dot {
  width: 16px;
  height: 16px;
  border: 2px solid var(--p-cadrin-teal);
  border-radius: 50%;
}
.there {
  background: var(--p-cadrin-teal);
}
</style>
