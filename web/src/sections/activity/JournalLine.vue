<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { momentWords } from '@/kit/time/clock'
import { changesOf } from '@/sections/cardholders/changes'
import { t, wordsForAction } from '@/words'

import { type JournalEntry, placeOf, topicsOf } from './journal'

/** One act of the journal: when, who and from where, what and about whom, before and after. */
const props = defineProps<{ entry: JournalEntry; canBeTakenBack: boolean }>()
const emit = defineEmits<{ takeBack: [] }>()

const MOST_CHANGES = 10
const topics = computed(() => topicsOf(props.entry))
const more = computed(() => props.entry.topic_count - props.entry.topics.length)
const changes = computed(() => {
  const all = changesOf(props.entry)
  return (all.length > MOST_CHANGES ? [...all.slice(0, MOST_CHANGES), '…'] : all).join('; ')
})
</script>

<template>
  <tr>
    <td class="mono when">{{ momentWords(entry.at) }}</td>
    <td class="who">
      {{ entry.operator_name }}
      <span class="quiet from">{{ entry.address || t('journal.itself') }}</span>
    </td>
    <td class="what">
      <b>{{ wordsForAction(entry.action) }}</b>
      <span v-for="(topic, place) in topics" :key="`${topic.kind} ${topic.id}`" class="topic">
        <RouterLink v-if="placeOf(topic)" :to="placeOf(topic)!">{{ topic.name }}</RouterLink>
        <template v-else>{{ topic.name }}</template>
        <template v-if="place < topics.length - 1">, </template>
      </span>
      <span v-if="more > 0" class="quiet">{{ t('common.more', { count: more }) }}</span>
    </td>
    <td class="changes">
      <span v-if="entry.is_erased" class="quiet">{{ t('journal.erased') }}</span>
      {{ changes }}
    </td>
    <td class="back">
      <Button
        v-if="canBeTakenBack"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('people.takeBack')"
        :aria-label="t('people.takeBackOf', { what: wordsForAction(entry.action) })"
        @click="emit('takeBack')"
      />
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 5px 10px 5px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
  vertical-align: top;
}
.when {
  width: 150px;
  white-space: nowrap;
}
.who {
  width: 150px;
}
.from {
  display: block;
  font-size: 12px;
}
.what {
  width: 260px;
}
.topic {
  display: inline;
  margin-left: 6px;
}
.changes {
  font-size: 13px;
  overflow-wrap: anywhere;
}
.back {
  text-align: right;
  white-space: nowrap;
}
</style>
