import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

type Schemas = components['schemas']
export type CardFormat = Schemas['FormatRow']
export type ReadyMade = Schemas['ReadyMadeShape']
export type Layout = Schemas['LayoutShape']
export type Explained = Schemas['ExplanationOfNumber']

export type Box = Schemas['BoxRow']

export const boxes = queryOptions({
  queryKey: keyOf('boxes'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/boxes/', { signal })),
})

export const formats = queryOptions({
  queryKey: keyOf('formats'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/formats/', { signal })),
})
