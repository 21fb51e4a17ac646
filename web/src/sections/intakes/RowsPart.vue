<script setup lang="ts">
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, watch } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { numberInAddress } from '@/kit/state/addressed'
import { numberWords, t, wordsFor } from '@/words'

import type { Intake } from './intake'
import { type Asked, EVERY_ROW, isSameAsked } from './rows'
import RowLine from './RowLine.vue'
import { useTargets } from './words'

/** The rows as they were and as they become: all, or those of one kind. */
const props = defineProps<{ intake: Intake; house: House }>()
const asked = defineModel<Asked>({ required: true })
const { word } = useTargets(
  () => props.intake,
  () => props.house,
)

const { data, isPending, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: keyOf(
    'intakes',
    'rows',
    computed(() => props.intake.id),
    computed(() => props.intake.version),
    computed(() => props.intake.is_assessed),
    asked,
  ),
  queryFn: ({ pageParam, signal }) =>
    unwrap(
      client.GET('/api/intakes/{id}/rows/', {
        params: {
          path: { id: props.intake.id },
          query: {
            after: pageParam,
            code: asked.value.code,
            ...(asked.value.state ? { state: asked.value.state } : {}),
            ...(asked.value.column === null ? {} : { column: asked.value.column }),
          },
        },
        signal,
      }),
    ),
  initialPageParam: 0,
  getNextPageParam: (page) => page.following ?? undefined,
  placeholderData: keepPreviousData,
})
const rows = computed(() => data.value?.pages.flatMap((page) => page.rows) ?? [])

const STATES = ['new', 'changed', 'same', 'faulty', 'left_out', 'missing'] as const
const tabs = computed(() => {
  const counts = props.intake.summary?.rows
  const all = counts ? STATES.reduce((sum, state) => sum + counts[state], 0) : props.intake.rows
  const told = STATES.filter((state) => counts?.[state]).map((state) => ({
    asked: { state: state, code: '', column: null },
    word: t(`intake.rowStates.${state}`),
    count: counts?.[state] ?? 0,
  }))
  return [{ asked: EVERY_ROW, word: t('intake.allRows'), count: all }, ...told]
})
const ofFault = computed(() =>
  asked.value.code
    ? wordsFor({ code: asked.value.code, field: null, params: {} }).replace(/\{\w+\}/g, '…')
    : '',
)
// what was asked about is gone when it was settled
watch(
  () => props.intake.version,
  () => {
    const { code, column } = asked.value
    const isThere = props.intake.summary?.faults.some((one) => one.code === code && one.column === column)
    if (code && props.intake.summary && !isThere) asked.value = EVERY_ROW
  },
)
const headings = computed(() =>
  props.intake.columns.map((one) => ({
    column: one.column,
    heading: one.heading || t('intake.columnNumber', { n: one.column + 1 }),
    target: props.intake.choices.columns.find((choice) => choice.column === one.column)?.target ?? '',
  })),
)
const opened = numberInAddress('row')

const NEAR_THE_END_PX = 600
function scrolled(event: Event) {
  const view = event.target as HTMLElement
  if (view.scrollHeight - view.scrollTop - view.clientHeight < NEAR_THE_END_PX && hasNextPage.value)
    void fetchNextPage()
}
</script>

<template>
  <div class="rows">
    <div class="tabs" role="group" :aria-label="t('intake.rows')">
      <button
        v-for="tab in tabs"
        :key="tab.word"
        type="button"
        :class="{ here: isSameAsked(tab.asked, asked) }"
        :aria-pressed="isSameAsked(tab.asked, asked)"
        @click="asked = tab.asked"
      >
        {{ tab.word }} <b>{{ numberWords(tab.count) }}</b>
      </button>
    </div>
    <p v-if="ofFault" class="fault row">
      {{ t('intake.onlyWith', { fault: ofFault }) }}
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('intake.showAll')"
        @click="asked = EVERY_ROW"
      />
    </p>
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions, vuejs-accessibility/no-noninteractive-tabindex -->
    <div class="scroll" tabindex="0" :aria-label="t('intake.rows')" role="region" @scroll.passive="scrolled">
      <table>
        <thead>
          <tr>
            <th scope="col">{{ t('intake.row') }}</th>
            <th scope="col">{{ t('intake.comesTo') }}</th>
            <th v-for="one in headings" :key="one.column" scope="col" :class="{ quiet: !one.target }">
              <span class="one-line">{{ one.heading }}</span>
              <span class="quiet taken one-line">{{ word(one.target) }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <RowLine
            v-for="(row, n) in rows"
            :key="row.row || `missing ${row.cardholder_id ?? n}`"
            :row="row"
            :headings="headings"
            :intake="intake"
            :house="house"
            :is-open="opened === row.row && row.row > 0"
            @open="opened = opened === row.row ? null : row.row"
          />
        </tbody>
      </table>
      <p v-if="!isPending && !rows.length" class="quiet none">{{ t('intake.noRows') }}</p>
      <p v-if="hasNextPage" class="none">
        <Button
          size="small"
          severity="secondary"
          :label="t('list.more')"
          :loading="isFetchingNextPage"
          @click="fetchNextPage()"
        />
      </p>
    </div>
  </div>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 10px 14px 6px;
}
.tabs button {
  padding: 2px 8px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: inherit;
  cursor: pointer;
}
.tabs .here {
  border-color: var(--p-cadrin-teal);
  background: var(--p-cadrin-teal-paper);
}
.fault {
  padding: 0 14px 4px;
  font-size: 13px;
}
.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
table {
  border-collapse: collapse;
}
th {
  position: sticky;
  top: 0;
  z-index: 1;
  max-width: 190px;
  padding: 4px 10px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-paper);
  font-size: 13px;
  font-weight: 600;
  text-align: left;
  vertical-align: bottom;
}
th span {
  display: block;
}
.taken {
  font-size: 12px;
  font-weight: 400;
}
.none {
  padding: 12px 14px;
}
</style>
