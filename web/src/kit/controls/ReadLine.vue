<script setup lang="ts">
import { computed } from 'vue'

import type { Read } from '@/api/client'

import { whenWords } from '@/kit/time/clock'
import StateMark from './StateMark.vue'
import { verdictOf } from '@/kit/said/verdict'

/** One read in a list, leading to its explanation. */
const props = defineProps<{ read: Read; isWithWho?: boolean }>()
const mark = computed(() => verdictOf(props.read))
</script>

<template>
  <li>
    <RouterLink class="line" :class="{ who: isWithWho }" :to="{ name: 'activity', query: { read: read.id } }">
      <span class="quiet when">{{ whenWords(read.at) }}</span>
      <span class="one-line">{{ read.reader_name }}</span>
      <span v-if="isWithWho" class="one-line">{{ read.cardholder_name || read.holder_name }}</span>
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
.line.who {
  grid-template-columns: 118px 140px 180px 1fr;
}
@media (width < 480px) {
  .line,
  .line.who {
    grid-template-columns: 118px minmax(0, 1fr);
  }
}
.line:hover {
  background: var(--p-cadrin-teal-paper);
}
.when {
  font-size: 13px;
}
</style>
