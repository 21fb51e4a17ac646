import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Batch = components['schemas']['BulkProgress']

/** Acts on many; asked for often while one is at work. */
export const batches = queryOptions({
  queryKey: keyOf('batches'),
  queryFn: () => unwrap(client.GET('/api/bulk-changes/')),
  refetchInterval: ({ state }) => (state.data?.some((one) => one.state === 'at_work') ? 500 : 15_000),
})

export const takeBack = (id: number) =>
  unwrap(client.POST('/api/bulk-changes/{id}/undo/', { params: { path: { id } } }))
