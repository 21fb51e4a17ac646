<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, type Read, unwrap } from '@/api/client'
import { house } from '@/api/queries'
import { momentWords } from '@/kit/clock'
import { useKeys } from '@/kit/keys'
import { nobodyWords, shownWords } from '@/kit/shown'
import StateMark from '@/kit/StateMark.vue'
import { unboxed } from '@/kit/table'
import { verdictOf } from '@/kit/verdict'
import { t } from '@/words'

import ActivityParts from './ActivityParts.vue'
import ReadExplanation from './ReadExplanation.vue'

const route = useRoute()
const router = useRouter()
const { data: choices } = useQuery(house)
const kind = ref<'all' | 'denied' | 'flagged'>('all')
const door = ref<number | undefined>()
const kinds = [
  { value: 'all', word: t('activity.all') },
  { value: 'denied', word: t('activity.denied') },
  { value: 'flagged', word: t('activity.flagged') },
]
const { data, isPending, isError } = useQuery({
  queryKey: ['reads', 'list', kind, door],
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/reads/', {
        params: {
          query: {
            denied: kind.value === 'denied',
            flagged: kind.value === 'flagged',
            ...(door.value ? { door: door.value } : {}),
          },
        },
        signal,
      }),
    ),
  placeholderData: keepPreviousData,
})
const rows = computed(() => data.value ?? [])

const chosen = computed(() => Number(route.query.read) || null)
const choose = (read: number | undefined) => void router.replace({ query: read ? { read } : {} })
function step(by: number) {
  const place = rows.value.findIndex((one) => one.id === chosen.value)
  choose(rows.value[Math.max(0, place + by)]?.id)
}
useKeys({ J: () => step(1), K: () => step(-1), Escape: () => choose(undefined) })

const clockWords = (read: Read) =>
  t('activity.wrongClock', { minutes: Math.round((read.clock_off_seconds ?? 0) / 60) })
const whoWords = (read: Read) =>
  read.unreadable || read.happening ? '' : read.cardholder_name || read.holder_name || nobodyWords(read)
</script>

<template>
  <div class="columns" :class="{ explained: chosen }">
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
        <Select
          v-model="door"
          :options="choices?.doors ?? []"
          option-label="name"
          option-value="id"
          size="small"
          filter
          show-clear
          :placeholder="t('activity.anyDoor')"
          :aria-label="t('activity.door')"
        />
      </div>
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
