<script setup lang="ts">
import { computed } from 'vue'

import { whenWords } from '@/kit/time/clock'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import { useReadersOfDoors } from './readers'

/** The readers beside a door, on which way, and whether they are heard of. */
const props = defineProps<{ doorId: number }>()
const { readersOf } = useReadersOfDoors()
const readers = computed(() => readersOf(props.doorId))
const stateOf = (silentSince: string | null) =>
  silentSince
    ? { shape: 'cross' as const, word: t('doing.silentSince', { when: whenWords(silentSince) }) }
    : { shape: 'disc' as const, word: t('doing.answers') }
</script>

<template>
  <ul class="readers" :aria-label="t('doing.readers')">
    <li v-for="one in readers" :key="one.id" class="stacks-late">
      <span class="name one-line">{{ one.name }}</span>
      <span class="quiet">{{ t(one.is_way_out ? 'doing.wayOut' : 'doing.wayIn') }}</span>
      <StateMark v-bind="stateOf(one.silentSince)" />
    </li>
  </ul>
</template>

<style scoped>
.readers {
  margin-top: 8px;
}
.readers li {
  display: grid;
  grid-template-columns: minmax(120px, 240px) 70px auto;
  gap: 10px;
  padding: 2px 0;
}
</style>
