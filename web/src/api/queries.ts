import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { byName } from '@/words'

import { client, unwrap } from './client'
import { keyOf } from './keys'

export const house = queryOptions({
  queryKey: keyOf('house'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/house/', { signal })),
  select: (found) => ({
    ...found,
    companies: byName(found.companies, (one) => one.name),
    groups: byName(found.groups, (one) => one.name),
  }),
  staleTime: 60_000,
})

export const desk = queryOptions({
  queryKey: keyOf('desk'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/desk/', { signal })),
  refetchInterval: 15_000,
})

export const waiting = queryOptions({
  queryKey: keyOf('waiting'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/waiting/', { signal })),
  refetchInterval: 10_000,
})

/** A cardholder's file; of somebody new, `key` tells which. */
export const file = (id: MaybeRefOrGetter<number | null>, key = '') =>
  queryOptions({
    queryKey: keyOf('cardholders', 'file', id, key),
    queryFn: ({ signal }) => {
      const which = toValue(id)
      return which === null
        ? unwrap(client.GET('/api/cardholders/new/', { signal }))
        : unwrap(client.GET('/api/cardholders/{id}/', { params: { path: { id: which } }, signal }))
    },
    gcTime: 0,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  })

export const history = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('cardholders', 'history', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/cardholders/{id}/history/', { params: { path: { id: toValue(id) } }, signal })),
  })

/** Where a cardholder's records are; asked often until all are held, and now and then after. */
export const records = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('cardholders', 'records', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/cardholders/{id}/records/', { params: { path: { id: toValue(id) } }, signal })),
    refetchInterval: ({ state }) => {
      const isOnItsWay = !state.data || state.data.is_pending || state.data.not_held
      // where nothing is at work, nothing will come of asking often
      return isOnItsWay && !state.data?.worker_stopped_at ? 400 : 5_000
    },
  })

export const letters = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('cardholders', 'letters', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/cardholders/{id}/letters/', { params: { path: { id: toValue(id) } }, signal })),
    refetchInterval: ({ state }) => (state.data?.some((one) => one.state === 'waiting') ? 3_000 : false),
  })

export const drafts = queryOptions({
  queryKey: keyOf('drafts'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/drafts/', { signal })),
})

export const groups = queryOptions({
  queryKey: keyOf('groups'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/groups/', { signal })),
})

export const groupPeople = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('groups', 'people', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/groups/{id}/people/', { params: { path: { id: toValue(id) } }, signal })),
  })

export const schedules = queryOptions({
  queryKey: keyOf('schedules'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/schedules/', { signal })),
})

export const doorPeople = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('doors', 'people', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/doors/{id}/people/', { params: { path: { id: toValue(id) } }, signal })),
  })

export const controllers = queryOptions({
  queryKey: keyOf('controllers'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/controllers/', { signal })),
  refetchInterval: 2000,
})

export const controllerRecords = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('controllers', 'records', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/controllers/{id}/records/', { params: { path: { id: toValue(id) } }, signal })),
    refetchInterval: 2000,
  })

export const explanation = (id: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('reads', 'explanation', id),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/reads/{id}/', { params: { path: { id: toValue(id) } }, signal })),
  })

export const bench = queryOptions({
  queryKey: keyOf('bench'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/bench/', { signal })),
  refetchInterval: 2000,
})

/** When the site's day ends, and its next morning: by the server's clock and calendar. */
export const coming = queryOptions({
  queryKey: keyOf('coming'),
  queryFn: () => unwrap(client.GET('/api/coming/')),
  staleTime: 10_000,
})
