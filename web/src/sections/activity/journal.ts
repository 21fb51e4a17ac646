import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, reactive, watchEffect } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components, operations } from '@/api/schema'

export type JournalEntry = components['schemas']['JournalEntry']
type Query = NonNullable<operations['journal_retrieve']['parameters']['query']>

const PAGE = 100

/** The journal by what is asked of it, a hundred acts at a time. */
export function useJournal(cardholder: () => number | undefined, intake: () => number | undefined) {
  const filters = reactive<Query>({})
  watchEffect(() => {
    filters.cardholder = cardholder()
    filters.intake = intake()
  })
  const { data, isPending, isError, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: ['journal', filters],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) =>
      unwrap(client.GET('/api/journal/', { params: { query: { ...filters, before: pageParam } }, signal })),
    getNextPageParam: (last) => (last.entries.length < PAGE ? undefined : last.entries.at(-1)?.id),
  })
  const entries = computed(() => data.value?.pages.flatMap((page) => page.entries) ?? [])
  const operators = computed(() => data.value?.pages[0]?.operators ?? [])
  const acts = computed(() => data.value?.pages[0]?.acts ?? [])
  return {
    filters,
    entries,
    operators,
    acts,
    isPending,
    isError,
    hasMore: hasNextPage,
    showMore: () => fetchNextPage(),
    isFetchingMore: isFetchingNextPage,
  }
}

/** Where one sees what an entry is about, if there is such a page. */
export function placeOf(topic: JournalEntry['topics'][number]) {
  switch (topic.kind) {
    case 'cardholder':
      return topic.name ? { name: 'cardholder', params: { id: topic.id } } : null
    case 'group':
    case 'schedule':
      return topic.name ? { name: 'access', params: { part: `${topic.kind}s`, id: topic.id } } : null
    case 'intake':
      return { name: 'journal', query: { intake: topic.id } }
    case 'operator':
      return { name: 'setup', params: { part: 'operators' }, query: { id: topic.id } }
    case 'controller':
      return { name: 'delivery', query: { controller: topic.id } }
    default:
      return null
  }
}
