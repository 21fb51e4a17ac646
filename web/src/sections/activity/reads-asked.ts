import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, type Read, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { operations } from '@/api/schema'
import { numberInAddress, textInAddress } from '@/kit/state/addressed'

type Query = NonNullable<operations['reads_list']['parameters']['query']>
export type Kind = 'all' | 'denied' | 'flagged'

const SHOWN = 100
const AT_ONCE = 1000
const MOST_TAKEN_OUT = 10_000

const whatIsAsked = () => ({
  door: numberInAddress('door'),
  cardholder: numberInAddress('cardholder'),
  department: numberInAddress('department'),
  reason: textInAddress('reason'),
  since: textInAddress('since'),
  until: textInAddress('until'),
})
export type ReadsAsked = ReturnType<typeof whatIsAsked>

/** The reads by what is asked of them; all of it stands in the address. */
export function useReadsAsked() {
  const kindInAddress = textInAddress('kind')
  const kind = computed<Kind>({
    get: () =>
      ['denied', 'flagged'].includes(kindInAddress.value ?? '') ? (kindInAddress.value as Kind) : 'all',
    set: (value) => (kindInAddress.value = value === 'all' ? null : value),
  })
  const asked = whatIsAsked()

  const query = computed<Query>(() => ({
    denied: kind.value === 'denied',
    flagged: kind.value === 'flagged',
    ...Object.fromEntries(
      Object.entries(asked).flatMap(([name, { value }]) => (value === null ? [] : [[name, value]])),
    ),
  }))
  const ask = (more: Query, signal?: AbortSignal) =>
    unwrap(
      client.GET('/api/reads/', {
        params: { query: { ...query.value, ...more } },
        ...(signal ? { signal } : {}),
      }),
    )
  const { data, isPending, isError } = useQuery({
    queryKey: keyOf('reads', 'list', query),
    queryFn: ({ signal }) => ask({ most: SHOWN }, signal),
    placeholderData: keepPreviousData,
  })
  const rows = computed(() => data.value ?? [])
  const isCut = computed(() => rows.value.length >= SHOWN)

  /** All that is asked for, the newest first, as far as a table is taken out. */
  async function everyRow(): Promise<Read[]> {
    const found: Read[] = []
    while (found.length < MOST_TAKEN_OUT) {
      const before = found.at(-1)?.id
      const some = await ask({ most: AT_ONCE, ...(before ? { before } : {}) })
      found.push(...some)
      if (some.length < AT_ONCE) break
    }
    return found
  }
  return { kind, asked, rows, isCut, isPending, isError, everyRow }
}
