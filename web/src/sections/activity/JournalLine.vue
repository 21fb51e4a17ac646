<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import { momentWords } from '@/kit/clock'
import { changesOf } from '@/sections/cardholders/changes'
import { t, wordsForAction } from '@/words'

import { type JournalEntry, placeOf } from './journal'

/** One act of the journal: when, who and from where, what and about whom, before and after. */
const props = defineProps<{ entry: JournalEntry; canBeTakenBack: boolean }>()
const emit = defineEmits<{ takeBack: [] }>()

const MOST_LINES = 5
/** What it is about, without what only says how: a card of a cardholder, a batch of many. */
const topics = computed(() => {
  const named = props.entry.topics.filter((one) => one.name)
  const holders = named.filter((one) => one.kind === 'cardholder')
  return holders.length ? holders : named
})
const more = computed(() => props.entry.topic_count - props.entry.topics.length)
const lines = computed(() => {
  const all = changesOf(props.entry)
  return all.length > MOST_LINES ? [...all.slice(0, MOST_LINES), '…'] : all
})
</script>

<template>
  <tr>
    <td class="mono when">{{ momentWords(entry.at) }}</td>
    <td class="who">
      {{ entry.operator_name }}
      <span class="quiet mono from">{{ entry.address || t('journal.itself') }}</span>
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
      <span v-for="(line, place) in lines" :key="place" class="line">{{ line }}</span>
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
.line {
  display: block;
}
.back {
  text-align: right;
  white-space: nowrap;
}
</style>
