<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useToast } from 'primevue/usetoast'

import { client, type HistoryEntry, Refusal, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { history } from '@/api/queries'
import type { components } from '@/api/schema'
import ReadLine from '@/kit/controls/ReadLine.vue'
import { whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { refusalWords, t, wordsFor, wordsForAction } from '@/words'

import { changesOf } from './changes'
import { leftOutWords } from './left-out'

const props = defineProps<{
  id: number
  delivery: components['schemas']['DeliveryOfCardholder'] | undefined
}>()
const emit = defineEmits<{ changed: [] }>()
const queries = useQueryClient()
const toast = useToast()
const session = useSession()
const mayEdit = session.may('edit')
const mayReadJournal = session.may('journal')
const { data, isError } = useQuery(history(() => props.id))
const FEW = 6
const few = (changes: string[]) => (changes.length > FEW ? [...changes.slice(0, FEW), '…'] : changes)
const linesOf = (entry: HistoryEntry) => few(changesOf(entry)).join('; ')

async function takeBack(entry: HistoryEntry) {
  try {
    await unwrap(
      client.POST('/api/cardholders/{id}/history/{entry}/back/', {
        params: { path: { id: props.id, entry: entry.id } },
      }),
    )
    toast.add({ severity: 'success', summary: t('people.takenBack'), life: 2500 })
    emit('changed')
    await queries.invalidateQueries({ queryKey: keyOf('cardholders') })
  } catch (error) {
    const detail = error instanceof Refusal ? error.problems.map(wordsFor).join(' ') : t('common.failed')
    toast.add({ severity: 'warn', summary: detail, life: 8000 })
  }
}
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
      <template v-if="delivery?.records.length">
        <h3>{{ t('people.held') }}</h3>
        <ul>
          <li v-for="one in delivery.records" :key="one.controller_id" class="act">
            <span class="quiet when">{{ whenWords(one.changed_at) }}</span>
            <span>
              {{ one.name }}: {{ t(`deliveryStates.${one.state}`, { why: refusalWords(one.refusal) }) }}
              <span v-for="words in leftOutWords(one)" :key="words" class="lines denied">{{ words }}</span>
            </span>
          </li>
        </ul>
      </template>
      <h3>
        {{ t('file.acts') }}
        <RouterLink v-if="mayReadJournal" :to="{ name: 'journal', query: { cardholder: id } }">
          {{ t('journal.inJournal') }}
        </RouterLink>
      </h3>
      <ol>
        <li v-for="entry in data.acts" :key="entry.id" class="act">
          <span class="quiet when">{{ whenWords(entry.at) }}</span>
          <span>
            <b>{{ wordsForAction(entry.action) }}</b> <span class="quiet">{{ entry.operator_name }}</span>
            <span class="lines">{{ linesOf(entry) }}</span>
          </span>
          <Button
            v-if="mayEdit && entry.can_be_undone"
            size="small"
            severity="secondary"
            variant="text"
            class="back"
            :label="t('people.takeBack')"
            :aria-label="t('people.takeBackOf', { what: wordsForAction(entry.action) })"
            @click="takeBack(entry)"
          />
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
  grid-template-columns: 118px 1fr auto;
  gap: 8px;
  padding: 3px 0;
}
.back {
  align-self: start;
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
