import { keepPreviousData, queryOptions } from '@tanstack/vue-query'
import { type ComputedRef, unref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Wanted = components['schemas']['WantedShapeRequest']
export type Found = components['schemas']['FoundGroups']

/** The groups that give what is wanted; nothing is asked while nothing is wanted. */
export const foundGroups = (wanted: ComputedRef<Wanted | null>) =>
  queryOptions({
    queryKey: keyOf('groups', 'find', wanted),
    queryFn: ({ signal }) =>
      unwrap(client.POST('/api/preview/groups/', { body: unref(wanted) ?? {}, signal })),
    placeholderData: keepPreviousData,
  })

export const untidyGroups = queryOptions({
  queryKey: keyOf('groups', 'untidy'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/groups/untidy/', { signal })),
})
