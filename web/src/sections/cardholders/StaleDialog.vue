<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'

import type { FileDraft, HistoryEntry } from '@/api/client'
import { whenWords } from '@/kit/clock'
import { t, wordsForAction } from '@/words'

import { changesOf } from './changes'
import { merge } from './merge'

defineProps<{ since: HistoryEntry[] }>()
const emit = defineEmits<{
  settle: [mend: (base: FileDraft, mine: FileDraft, theirs: FileDraft) => FileDraft]
}>()
</script>

<template>
  <Dialog visible modal :closable="false" :header="t('stale.title')" :style="{ width: '520px' }">
    <ol class="since">
      <li v-for="entry in since" :key="entry.id">
        <b>{{ t('stale.who', { name: entry.operator_name, when: whenWords(entry.at) }) }}</b>
        {{ wordsForAction(entry.action) }}
        <span class="quiet">{{ changesOf(entry).join('; ') }}</span>
      </li>
    </ol>
    <p class="quiet">{{ t('stale.keepHint') }}</p>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        :label="t('stale.drop')"
        @click="emit('settle', (_, __, theirs) => theirs)"
      />
      <Button size="small" :label="t('stale.keep')" @click="emit('settle', merge)" />
    </template>
  </Dialog>
</template>

<style scoped>
.since {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin-bottom: 12px;
}
</style>
