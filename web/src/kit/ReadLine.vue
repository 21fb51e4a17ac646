<script setup lang="ts">
import { computed } from 'vue'

import type { Read } from '@/api/client'
import { t } from '@/words'

import { whenWords } from './clock'
import StateMark from './StateMark.vue'

/** One read in a list, leading to its explanation. */
const props = defineProps<{ read: Read }>()
const mark = computed(() => {
  if (props.read.unreadable) return { shape: 'dash' as const, word: t('activity.unreadable') }
  if (props.read.reason === null) return { shape: 'ring' as const, word: t('activity.atDesk') }
  const isGranted = props.read.reason === 'granted'
  return {
    shape: isGranted ? ('disc' as const) : ('cross' as const),
    word: t(`reasons.${props.read.reason}`),
  }
})
</script>

<template>
  <li>
    <RouterLink class="line" :to="{ name: 'activity', query: { read: read.id } }">
      <span class="quiet when">{{ whenWords(read.at) }}</span>
      <span class="one-line">{{ read.reader_name }}</span>
      <StateMark :shape="mark.shape" :word="mark.word" />
    </RouterLink>
  </li>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 118px 120px 1fr;
  gap: 8px;
  padding: 2px 0;
  color: inherit;
  text-decoration: none;
}
.line:hover {
  background: var(--p-cadrin-teal-paper);
}
.when {
  font-size: 13px;
}
</style>
