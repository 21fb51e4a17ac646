<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'

import type { FileDraft, House } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import { t, wordsForAction, wordsForField } from '@/words'

import { changesOf, shownValue } from './changes'
import type { Stale } from './draft'
import { merge } from './merge'

defineProps<{ stale: Stale; choices: House }>()
const emit = defineEmits<{
  settle: [mend: (base: FileDraft, mine: FileDraft, theirs: FileDraft) => FileDraft]
}>()
</script>

<template>
  <Dialog visible modal :closable="false" :header="t('stale.title')" :style="{ width: '520px' }">
    <ol class="since">
      <li v-for="entry in stale.since" :key="entry.id">
        <b>{{ t('stale.who', { name: entry.operator_name, when: whenWords(entry.at) }) }}</b>
        {{ wordsForAction(entry.action) }}
        <span class="quiet">{{ changesOf(entry).join('; ') }}</span>
      </li>
    </ol>
    <h3>{{ t('stale.clashes') }}</h3>
    <ul class="since">
      <li v-for="field in stale.clashes" :key="field">
        {{
          t('people.clash', {
            field: wordsForField(field),
            mine: shownValue(field, stale.mine, choices) || t('common.none'),
            theirs: shownValue(field, stale.theirs, choices) || t('common.none'),
          })
        }}
      </li>
    </ul>
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
