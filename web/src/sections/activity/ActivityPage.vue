<script setup lang="ts">
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import SelectButton from 'primevue/selectbutton'

import type { Read } from '@/api/client'
import { numberInAddress } from '@/kit/state/addressed'
import { momentWords } from '@/kit/time/clock'
import { useKeys } from '@/kit/controls/keys'
import { nobodyWords, shownWords } from '@/kit/said/shown'
import StateMark from '@/kit/controls/StateMark.vue'
import { unboxed } from '@/kit/controls/table'
import TableExport from '@/kit/controls/TableExport.vue'
import { verdictOf } from '@/kit/said/verdict'
import { t } from '@/words'

import ActivityParts from './ActivityParts.vue'
import ReadExplanation from './ReadExplanation.vue'
import ReadFilters from './ReadFilters.vue'
import { useReadsAsked } from './reads-asked'

const { kind, asked, rows, isCut, isPending, isError, everyRow } = useReadsAsked()
const kinds = [
  { value: 'all', word: t('activity.all') },
  { value: 'denied', word: t('activity.denied') },
  { value: 'flagged', word: t('activity.flagged') },
]

const chosen = numberInAddress('read')
const choose = (read: number | undefined) => (chosen.value = read ?? null)
function step(by: number) {
  const place = rows.value.findIndex((one) => one.id === chosen.value)
  choose(rows.value[Math.max(0, place + by)]?.id)
}
useKeys({ J: () => step(1), K: () => step(-1), Escape: () => choose(undefined) })

const clockWords = (read: Read) =>
  t('activity.wrongClock', { minutes: Math.round((read.clock_off_seconds ?? 0) / 60) })
const whoWords = (read: Read) =>
  read.unreadable || read.happening ? '' : read.cardholder_name || read.holder_name || nobodyWords(read)

const headings = ['time', 'door', 'who', 'card', 'verdict'].map((name) => t(`activity.${name}`))
const taken = async () =>
  (await everyRow()).map((read) => [
    momentWords(read.at) + (read.clock_off_seconds ? ` (${clockWords(read)})` : ''),
    read.reader_name,
    whoWords(read),
    shownWords(read),
    verdictOf(read).word,
  ])
</script>

<template>
  <div class="columns stacks" :class="{ explained: chosen }">
    <div class="left">
      <div class="page-head head">
        <h1>{{ t('activity.title') }}</h1>
        <ActivityParts />
        <SelectButton
          v-model="kind"
          class="push"
          :options="kinds"
          option-label="word"
          option-value="value"
          size="small"
          :allow-empty="false"
          :aria-label="t('activity.verdict')"
        />
        <TableExport :name="t('activity.title')" :headings="headings" :rows="taken" />
      </div>
      <ReadFilters :asked="asked" />
      <p v-if="isError" class="denied page">{{ t('common.failed') }}</p>
      <div v-else class="table">
        <DataTable
          :value="rows"
          :loading="isPending"
          data-key="id"
          :pt="unboxed"
          size="small"
          row-hover
          :row-class="(row: Read) => ({ chosen: row.id === chosen })"
          @row-click="choose($event.data.id)"
        >
          <template #empty>{{ t('activity.empty') }}</template>
          <Column :header="t('activity.time')">
            <template #body="{ data: read }: { data: Read }">
              <span class="mono nowrap">{{ momentWords(read.at) }}</span>
              <span v-if="read.clock_off_seconds" class="denied nowrap" :title="clockWords(read)">
                ! {{ t('activity.clock') }}</span
              >
            </template>
          </Column>
          <Column :header="t('activity.door')">
            <template #body="{ data: read }: { data: Read }">
              <span class="one-line door" :title="read.reader_name">{{ read.reader_name }}</span>
            </template>
          </Column>
          <Column :header="t('activity.who')">
            <template #body="{ data: read }: { data: Read }">
              <span class="one-line who">
                {{ whoWords(read) }}
              </span>
            </template>
          </Column>
          <Column v-if="!chosen" :header="t('activity.card')">
            <template #body="{ data: read }: { data: Read }">
              <span class="mono nowrap">{{ shownWords(read) }}</span>
            </template>
          </Column>
          <Column :header="t('activity.verdict')">
            <template #body="{ data: read }: { data: Read }">
              <button type="button" class="verdict" @click.stop="choose(read.id)">
                <StateMark :shape="verdictOf(read).shape" :word="verdictOf(read).word" />
                <b v-if="read.is_duress" class="denied">! {{ t('desk.alarms') }}</b>
                <span v-else-if="read.is_watched"> · {{ t('activity.watched') }}</span>
                <span v-else-if="read.is_passed_back && read.reason === 'granted'" class="one-line">
                  · {{ t('doing.passedBack') }}</span
                >
              </button>
            </template>
          </Column>
        </DataTable>
        <p v-if="isCut" class="quiet cut">{{ t('activity.newest', { most: rows.length }) }}</p>
      </div>
    </div>
    <ReadExplanation v-if="chosen" :id="chosen" :key="chosen" @close="choose(undefined)" />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr;
  height: 100%;
}
.explained {
  grid-template-columns: 1fr 350px;
}
.left {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.head {
  padding: 14px 20px 0;
}
.cut {
  padding-top: 8px;
}
.table {
  flex: 1;
  min-height: 0;
  padding: 0 20px 20px;
  overflow: auto;
}
.table :deep(tbody tr) {
  height: 32px;
  cursor: pointer;
}
.table :deep(thead) {
  position: sticky;
  top: 0;
  z-index: 1;
}
.table :deep(tr.chosen) {
  background: var(--p-cadrin-teal-paper);
  box-shadow: inset 3px 0 0 var(--p-cadrin-teal);
}
.nowrap {
  white-space: nowrap;
}
.who {
  display: block;
  max-width: 180px;
}
.door {
  display: block;
  max-width: 150px;
}
.explained .who,
.explained .door {
  max-width: 136px;
}
.verdict {
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
</style>
