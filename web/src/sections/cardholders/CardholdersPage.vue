<script setup lang="ts">
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { Download, FileInput } from '@lucide/vue'
import { refDebounced, useSessionStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { type CardholderRow, client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import { useKeys } from '@/kit/controls/keys'
import { useSession } from '@/kit/state/session'
import { newCardholder } from '@/kit/state/use-read'
import { numberWords, t } from '@/words'

import BatchList from './many/BatchList.vue'
import { useColumns } from './columns'
import ColumnsMenu from './ColumnsMenu.vue'
import ExportDialog from './ExportDialog.vue'
import FilterSentence from './FilterSentence.vue'
import { filtersIn, useFilters } from './filters'
import PeopleTable from './PeopleTable.vue'
import SelectionBar from './many/SelectionBar.vue'
import { useSelection } from './many/selection'
import ViewsMenu from './ViewsMenu.vue'

const router = useRouter()
const session = useSession()
const { data: choices } = useQuery(house)
const { filters, sort, clear, take } = useFilters()
const settled = refDebounced(
  computed(() => JSON.stringify({ ...filtersIn(filters), sort: sort.value })),
  120,
)

const KEPT_FOR_MS = 5 * 60_000
const { data, isError, refetch, isPending, hasNextPage, fetchNextPage, isFetchingNextPage } =
  useInfiniteQuery({
    queryKey: keyOf('cardholders', 'list', settled),
    queryFn: ({ pageParam, signal }) =>
      unwrap(
        client.GET('/api/cardholders/', {
          params: { query: { ...filtersIn(filters), sort: sort.value, after: pageParam } },
          signal,
        }),
      ),
    initialPageParam: '',
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
    // one comes back from somebody to the place where one was
    gcTime: KEPT_FOR_MS,
  })
const rows = computed(() => data.value?.pages.flatMap((page) => page.rows) ?? [])
const total = computed(() => data.value?.pages[0]?.total ?? 0)
const MOST_COUNTED = 10_000
const totalWords = computed(() =>
  total.value >= MOST_COUNTED ? t('common.moreThan', { count: MOST_COUNTED }) : numberWords(total.value),
)

// -- columns, kept lists, and who is selected ---------------------------------------------------

const columns = useColumns(() => choices.value?.custom_fields ?? [])
const selection = useSelection(filters, total)
// who is selected was selected among those that matched then
watch(settled, () => selection.state.isAll && selection.clear())
// nobody counts further than that; what an act would do is told exactly before it begins
const selectedWords = computed(() =>
  selection.state.isAll && total.value >= MOST_COUNTED
    ? totalWords.value
    : numberWords(selection.count.value),
)
function takeView(view: { filters: Record<string, unknown>; columns: string[]; sort: string }) {
  take(view.filters, view.sort)
  columns.keys.value = view.columns
}

// -- keys ------------------------------------------------------------------------------------

const place = ref(-1)
const selected = computed(() => rows.value[place.value])
function step(by: number) {
  place.value = Math.min(rows.value.length - 1, Math.max(0, place.value + by))
  document.querySelectorAll('.people tbody tr')[place.value]?.scrollIntoView({ block: 'nearest' })
}
function open(row: CardholderRow | undefined) {
  if (row) void router.push({ name: 'cardholder', params: { id: row.id } })
}
useKeys({
  X: () => selected.value && selection.toggle(selected.value.id),
  J: () => step(1),
  K: () => step(-1),
  Enter: () => open(selected.value),
})

// -- paging ----------------------------------------------------------------------------------

const NEAR_THE_END_PX = 400
/** How far down one was, by what was asked for: found again on the way back. */
const placeOf = useSessionStorage('cadrin.listPlace', { asked: '', top: 0 })
/** Whom a file is made of: everybody who matches, without ticking anybody, or those who are ticked. */
const exported = ref<'all' | 'selected' | null>(null)
const people = useTemplateRef('people')
watch(
  () => rows.value.length > 0 && people.value,
  async (is) => {
    if (!is || !people.value || placeOf.value.asked !== settled.value) return
    await nextTick()
    people.value.scrollTop = placeOf.value.top
  },
  { immediate: true, once: true },
)
function scrolled(event: Event) {
  const view = event.target as HTMLElement
  placeOf.value = { asked: settled.value, top: view.scrollTop }
  if (view.scrollHeight - view.scrollTop - view.clientHeight < NEAR_THE_END_PX && hasNextPage.value)
    void fetchNextPage()
}
</script>

<template>
  <div class="list">
    <div class="head">
      <div class="page-head">
        <h1>{{ t('list.title') }}</h1>
        <span class="quiet" role="status">{{
          isPending ? '' : t('list.count', { count: totalWords }, total)
        }}</span>
        <div class="row push tools">
          <Button
            v-if="session.may('enrol')"
            size="small"
            severity="secondary"
            variant="text"
            @click="router.push({ name: 'intakes' })"
          >
            <FileInput :size="14" aria-hidden="true" /> {{ t('intake.bring') }}
          </Button>
          <BatchList />
          <ViewsMenu
            :now="{ filters: filtersIn(filters), columns: columns.keys.value, sort }"
            @take="takeView"
          />
          <Button
            v-if="session.may('export') && total"
            size="small"
            severity="secondary"
            variant="text"
            @click="exported = 'all'"
          >
            <Download :size="14" aria-hidden="true" /> {{ t('batches.export') }}
          </Button>
          <ColumnsMenu
            v-model="columns.keys.value"
            v-model:widths="columns.widths.value"
            :all="columns.all.value"
          />
        </div>
        <Button v-if="session.may('enrol')" size="small" @click="router.push(newCardholder())">
          {{ t('desk.new') }} <kbd class="mono">N</kbd>
        </Button>
      </div>
      <FilterSentence v-if="choices" v-model="filters" :choices="choices" @clear="clear" />
    </div>
    <ExportDialog
      v-if="exported"
      :selection="exported === 'all' ? selection.everybody.value : selection.asked.value"
      :count="exported === 'all' ? total : selection.count.value"
      :count-words="exported === 'all' ? totalWords : selectedWords"
      :columns="columns.keys.value"
      :sort="sort"
      @done="exported = null"
    />
    <SelectionBar
      v-if="choices && selection.count.value"
      :selection="selection.asked.value"
      :count="selection.count.value"
      :count-words="selectedWords"
      :is-all="selection.state.isAll"
      :total="total"
      :total-words="totalWords"
      :choices="choices"
      @select-all="selection.selectAll"
      @clear="selection.clear"
      @export="exported = 'selected'"
    />
    <p v-if="isError" class="page denied">
      {{ t('common.failed') }} <Button size="small" :label="t('common.again')" @click="refetch()" />
    </p>
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -->
    <div v-else ref="people" class="people" @scroll.passive="scrolled">
      <PeopleTable
        v-model:sort="sort"
        :rows="rows"
        :columns="columns.chosen.value"
        :widths="columns.widths.value"
        :is-loading="isPending"
        :chosen="selected?.id"
        :selection="selection"
        @open="open"
      />
      <p class="end quiet">
        <Button
          v-if="hasNextPage"
          size="small"
          severity="secondary"
          :label="t('list.more')"
          :loading="isFetchingNextPage"
          @click="fetchNextPage()"
        />
        <span v-else-if="rows.length">{{ t('list.end') }}</span>
      </p>
    </div>
  </div>
</template>

<style scoped>
.list {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.head {
  padding: 14px 20px 10px;
}
.people {
  flex: 1;
  min-height: 0;
  padding: 0 20px;
  overflow: auto;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
.tools {
  flex-wrap: wrap;
  gap: 4px;
  white-space: nowrap;
}
.end {
  padding: 10px 0 20px;
  text-align: center;
}
</style>
