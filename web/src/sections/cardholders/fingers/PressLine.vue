<script setup lang="ts">
import { computed } from 'vue'

import { t, wordsFor } from '@/words'

import type { Capture } from './fingers'

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
  <div v-if="last" class="bar" aria-hidden="true">
    <span
      class="fill"
      :class="{ poor: last.quality < capture.least_quality }"
      :style="{ width: `${last.quality}%` }"
    ></span>
    <span class="tick" :style="{ left: `${capture.least_quality}%` }"></span>
  </div>
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
.bar {
  position: relative;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 5px;
  background: var(--p-cadrin-sheet);
}
.fill {
  display: block;
  height: 100%;
  border-radius: 5px;
  background: var(--p-cadrin-teal);
}
.poor {
  background: var(--p-cadrin-lit);
}
.tick {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--p-cadrin-ink);
}
</style>
