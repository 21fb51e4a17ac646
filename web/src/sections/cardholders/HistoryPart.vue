<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import type { HistoryEntry } from '@/api/client'
import { history } from '@/api/queries'
import ReadLine from '@/kit/ReadLine.vue'
import { whenWords } from '@/kit/clock'
import { t, wordsForAction } from '@/words'

import { changesOf } from './changes'

const props = defineProps<{ id: number }>()
const { data, isError } = useQuery(history(() => props.id))
const FEW = 6
const few = (changes: string[]) => (changes.length > FEW ? [...changes.slice(0, FEW), '…'] : changes)
const linesOf = (entry: HistoryEntry) => few(changesOf(entry)).join('; ')
</script>

<template>
  <section id="history" class="part" aria-labelledby="history-head">
    <h2 id="history-head">{{ t('file.history') }}</h2>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-else-if="data">
      <h3>{{ t('file.reads') }}</h3>
      <p v-if="!data.reads.length" class="quiet">{{ t('file.noHistory') }}</p>
      <ul class="reads">
        <ReadLine v-for="read in data.reads.slice(0, 8)" :key="read.id" :read="read" />
      </ul>
      <h3>{{ t('file.acts') }}</h3>
      <ol>
        <li v-for="entry in data.acts" :key="entry.id" class="act">
          <span class="quiet when">{{ whenWords(entry.at) }}</span>
          <span>
            <b>{{ wordsForAction(entry.action) }}</b> <span class="quiet">{{ entry.operator_name }}</span>
            <span class="lines">{{ linesOf(entry) }}</span>
          </span>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.part {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
h3 {
  margin: 10px 0 4px;
  color: var(--p-cadrin-quiet);
}
.act {
  display: grid;
  grid-template-columns: 118px 1fr;
  gap: 8px;
  padding: 3px 0;
}
.when {
  font-size: 13px;
}
.lines {
  display: block;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
