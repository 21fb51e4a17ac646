<script setup lang="ts">
import { computed } from 'vue'

import type { components } from '@/api/schema'
import { i18n, t } from '@/words'

/** Every bit of a format: its number, its value in the sample, and by letter and ground what it belongs to. */
const props = defineProps<{ bits: components['schemas']['BitShape'][] }>()

const LETTERS: Record<string, string> = {
  facility_code: 'F',
  card_number: 'N',
  issue_level: 'L',
  parity: 'P',
  fixed: '=',
  unused: '·',
}
const letterOf = (part: string) => LETTERS[part] ?? 'O'
const kindOf = (part: string) => (part in LETTERS ? part : 'other')
function wordOf(part: string) {
  const key = `cards.parts.${part}`
  return i18n.global.te(key) ? i18n.global.t(key) : part
}
const legend = computed(() => [...new Set(props.bits.map((one) => one.part))])
</script>

<template>
  <div v-if="bits.length">
    <ol class="bits mono" :aria-label="t('cards.diagram', { count: bits.length })">
      <li
        v-for="one in bits"
        :key="one.bit"
        :class="[kindOf(one.part), { wrong: one.is_wrong }]"
        :title="`${one.bit}: ${wordOf(one.part)}`"
      >
        <span class="place">{{ one.bit }}</span>
        <span class="value">{{ one.value ?? '–' }}</span>
        <span class="letter">{{ one.is_wrong ? '✕' : letterOf(one.part) }}</span>
      </li>
    </ol>
    <p class="legend">
      <span v-for="part in legend" :key="part" class="entry">
        <span class="swatch mono" :class="kindOf(part)">{{ letterOf(part) }}</span> {{ wordOf(part) }}
      </span>
    </p>
  </div>
</template>

<style scoped>
.bits {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
}
.bits li {
  display: flex;
  flex-direction: column;
  align-items: center;
  width: 26px;
  padding: 1px 0;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 2px;
  line-height: 1.25;
}
.place,
.letter {
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.value {
  font-size: 14px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 8px;
}
.swatch {
  display: inline-block;
  width: 20px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 2px;
  text-align: center;
}
.card_number {
  background: var(--p-cadrin-teal-paper);
}
.facility_code {
  background: var(--p-cadrin-amber-paper);
}
.bits .parity,
.swatch.parity {
  border-style: dashed;
}
.bits .wrong {
  border-color: var(--p-cadrin-brick);
  background: var(--p-cadrin-brick-paper);
}
</style>
