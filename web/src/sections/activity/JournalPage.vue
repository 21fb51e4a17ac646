<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import { momentWords } from '@/kit/time/clock'
import InstantField from '@/kit/time/InstantField.vue'
import PersonField from '@/kit/controls/PersonField.vue'
import { useSession } from '@/kit/state/session'
import TableExport from '@/kit/controls/TableExport.vue'
import { changesOf } from '@/sections/cardholders/changes'
import { byName, t, wordsForAction } from '@/words'

import ActivityParts from './ActivityParts.vue'
import { type JournalEntry, topicsOf, useJournal } from './journal'
import JournalLine from './JournalLine.vue'

const { asked, entries, operators, acts, isPending, isError, hasMore, showMore, isFetchingMore, everyEntry } =
  useJournal()
const { operator, act: actAsked, cardholder: about, intake: ofIntake, since, until } = asked
const queries = useQueryClient()
const confirm = useConfirm()
const toast = useToast()
const { act, elsewhere } = useAct()
const mayEdit = useSession().may('edit')

const actChoices = computed(() =>
  byName(
    acts.value.map((value) => ({ value, word: t(`journal.acts.${value}`) })),
    (one) => one.word,
  ),
)
/** The list all of it came of, when only that was asked for. */
const intakeName = computed(
  () =>
    entries.value
      .flatMap((one) => one.topics)
      .find((one) => one.kind === 'intake' && one.id === ofIntake.value)?.name ?? '',
)

const headings = ['when', 'who', 'what', 'changes'].map((name) => t(`journal.${name}`))
const taken = async () =>
  (await everyEntry()).map((entry) => [
    momentWords(entry.at),
    `${entry.operator_name} ${entry.address}`.trim(),
    [wordsForAction(entry.action), ...topicsOf(entry).map((one) => one.name)].join(', '),
    entry.is_erased ? t('journal.erased') : changesOf(entry).join('; '),
  ])

/** The act on many that this entry began. */
const batchOf = (entry: JournalEntry) =>
  entry.action === 'batch.begun' ? entry.topics.find((one) => one.kind === 'batch') : undefined
/** The one cardholder whose history this act can be taken back from. */
const holderOf = (entry: JournalEntry) => {
  const holders = entry.topics.filter((one) => one.kind === 'cardholder')
  return holders.length === 1 && entry.can_be_undone && !entry.is_erased ? holders[0] : undefined
}
function takeBack(entry: JournalEntry) {
  const holder = holderOf(entry)
  const batch = batchOf(entry)
  const what = holder ? `${wordsForAction(entry.action)}, ${holder.name}` : wordsForAction(entry.action)
  confirm.require({
    header: t('people.takeBack'),
    message: t('journal.takeBackAsk', { what }),
    acceptLabel: t('people.takeBack'),
    rejectLabel: t('common.cancel'),
    acceptProps: { size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => {
      if (holder) void takenBack(() => ofOne(holder.id, entry.id))
      else if (batch) void takenBack(() => ofMany(batch.id))
    },
  })
}
const ofOne = (id: number, entry: number) =>
  unwrap(client.POST('/api/cardholders/{id}/history/{entry}/back/', { params: { path: { id, entry } } }))
const ofMany = (id: number) =>
  unwrap(client.POST('/api/bulk-changes/{id}/undo/', { params: { path: { id } } }))

async function takenBack(asked: () => Promise<unknown>) {
  const done = await act(async () => {
    await asked()
    return true
  }, t('people.takenBack'))
  if (done) await queries.invalidateQueries()
  else if (elsewhere.value) toast.add({ severity: 'warn', summary: elsewhere.value, life: 8000 })
}
</script>

<template>
  <div class="all">
    <div class="page-head head">
      <h1>{{ t('journal.title') }}</h1>
      <ActivityParts />
      <p v-if="ofIntake" class="push">
        {{ t('journal.ofIntake') }}
        <RouterLink :to="{ name: 'intake', params: { id: ofIntake } }">{{ intakeName }}</RouterLink>.
        <RouterLink :to="{ name: 'journal' }">{{ t('journal.aboutEverybody') }}</RouterLink>
      </p>
      <TableExport
        :class="{ push: !ofIntake }"
        :name="t('journal.title')"
        :headings="headings"
        :rows="taken"
      />
    </div>
    <div class="filters" role="search" :aria-label="t('journal.title')">
      <PersonField v-model="about" class="choice" :label="t('activity.person')" />
      <Select
        v-model="operator"
        :options="operators"
        option-label="name"
        option-value="id"
        size="small"
        class="choice"
        filter
        show-clear
        :placeholder="t('journal.anyOperator')"
        :aria-label="t('journal.operator')"
      />
      <Select
        v-model="actAsked"
        :options="actChoices"
        option-label="word"
        option-value="value"
        size="small"
        class="choice"
        show-clear
        :placeholder="t('journal.anyAct')"
        :aria-label="t('journal.act')"
      />
      <InstantField v-model="since" class="from" :label="t('journal.since')" :empty="t('journal.anyDay')" />
      <InstantField
        v-model="until"
        is-end
        class="from"
        :label="t('journal.until')"
        :empty="t('journal.anyDay')"
      />
    </div>
    <p v-if="isError" class="denied page">{{ t('common.failed') }}</p>
    <p v-else-if="isPending" class="quiet page">{{ t('common.loading') }}</p>
    <div v-else class="table">
      <table>
        <thead>
          <tr>
            <th scope="col">{{ t('journal.when') }}</th>
            <th scope="col">{{ t('journal.who') }}</th>
            <th scope="col">{{ t('journal.what') }}</th>
            <th scope="col">{{ t('journal.changes') }}</th>
            <th>
              <span class="unseen">{{ t('people.takeBack') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <JournalLine
            v-for="entry in entries"
            :key="entry.id"
            :entry="entry"
            :can-be-taken-back="mayEdit && !!(holderOf(entry) ?? batchOf(entry))"
            @take-back="takeBack(entry)"
          />
        </tbody>
      </table>
      <p v-if="!entries.length" class="quiet none">{{ t('journal.empty') }}</p>
      <Button
        v-if="hasMore"
        size="small"
        severity="secondary"
        :label="t('journal.more')"
        :loading="isFetchingMore"
        @click="showMore"
      />
    </div>
  </div>
</template>

<style scoped>
.all {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.head {
  padding: 14px 20px 0;
}
.filters {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 10px;
  padding: 0 20px 10px;
}
.choice {
  width: 190px;
}
.table {
  flex: 1;
  min-height: 0;
  padding: 0 20px 20px;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  position: sticky;
  top: 0;
  z-index: 1;
  padding: 4px 10px 4px 0;
  background: var(--p-cadrin-paper);
  font-size: 12px;
  font-weight: 600;
  color: var(--p-cadrin-quiet);
  text-align: left;
}
.none {
  padding: 10px 0;
}
</style>
