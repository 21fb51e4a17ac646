import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components, operations } from '@/api/schema'
import { numberInAddress, textInAddress } from '@/kit/state/addressed'

export type JournalEntry = components['schemas']['JournalEntry']
type Query = NonNullable<operations['journal_retrieve']['parameters']['query']>

const PAGE = 100
const MOST_TAKEN_OUT = 5000

/** The journal by what is asked of it, which stands in the address; a hundred acts at a time. */
export function useJournal() {
  const asked = {
    operator: numberInAddress('operator'),
    act: textInAddress('act'),
    cardholder: numberInAddress('cardholder'),
    intake: numberInAddress('intake'),
    since: textInAddress('since'),
    until: textInAddress('until'),
  }
  const query = computed<Query>(() =>
    Object.fromEntries(
      Object.entries(asked).flatMap(([name, { value }]) => (value === null ? [] : [[name, value]])),
    ),
  )
  const ask = (before: number | undefined, signal?: AbortSignal) =>
    unwrap(
      client.GET('/api/journal/', {
        params: { query: { ...query.value, ...(before ? { before } : {}) } },
        ...(signal ? { signal } : {}),
      }),
    )
  const { data, isPending, isError, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: keyOf('journal', query),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) => ask(pageParam, signal),
    getNextPageParam: (last) => (last.entries.length < PAGE ? undefined : last.entries.at(-1)?.id),
  })
  const entries = computed(() => data.value?.pages.flatMap((page) => page.entries) ?? [])
  const operators = computed(() => data.value?.pages[0]?.operators ?? [])
  const acts = computed(() => data.value?.pages[0]?.acts ?? [])

  /** All that is asked for, the newest first, as far as a table is taken out. */
  async function everyEntry(): Promise<JournalEntry[]> {
    const found: JournalEntry[] = []
    while (found.length < MOST_TAKEN_OUT) {
      const some = (await ask(found.at(-1)?.id)).entries
      found.push(...some)
      if (some.length < PAGE) break
    }
    return found
  }
  return {
    asked,
    entries,
    operators,
    acts,
    isPending,
    isError,
    hasMore: hasNextPage,
    showMore: () => fetchNextPage(),
    isFetchingMore: isFetchingNextPage,
    everyEntry,
  }
}

/** What an entry is about, without what only says how: a card of a cardholder, a batch of many. */
export function topicsOf(entry: JournalEntry) {
  // whoever signs in, or changes their own password, is named already
  const named = entry.topics.filter((one) => one.name && one.name !== entry.operator_name)
  const holders = named.filter((one) => one.kind === 'cardholder')
  return holders.length ? holders : named
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
