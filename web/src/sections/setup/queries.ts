import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'

export type Places = components['schemas']['PlacesShape']

export const places = queryOptions({
  queryKey: ['setup', 'places'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/places/', { signal })),
})

/** Controllers that answer when they are looked for. */
export const search = queryOptions({
  queryKey: ['setup', 'search'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/controllers/search/', { signal })),
  retry: false,
  staleTime: 0,
})

export const departments = queryOptions({
  queryKey: ['setup', 'departments'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/departments/', { signal })),
})

export const listed = (which: 'companies' | 'kinds') =>
  queryOptions({
    queryKey: ['setup', which],
    queryFn: ({ signal }) =>
      unwrap(
        which === 'companies'
          ? client.GET('/api/companies/', { signal })
          : client.GET('/api/kinds/', { signal }),
      ),
  })

export const ownFields = queryOptions({
  queryKey: ['setup', 'own-fields'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/own-fields/', { signal })),
})

export const rules = queryOptions({
  queryKey: ['setup', 'rules'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/register/', { signal })),
})

export const biometricRules = queryOptions({
  queryKey: ['setup', 'biometric-rules'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/biometric-settings/', { signal })),
})

export const cardRules = queryOptions({
  queryKey: ['setup', 'card-rules'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/card-settings/', { signal })),
})
