import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Places = components['schemas']['PlacesShape']

export const places = queryOptions({
  queryKey: keyOf('setup', 'places'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/places/', { signal })),
})

/** Controllers that answer when they are looked for. */
export const search = queryOptions({
  queryKey: keyOf('setup', 'search'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/controllers/search/', { signal })),
  retry: false,
  staleTime: 0,
})

export const departments = queryOptions({
  queryKey: keyOf('setup', 'departments'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/departments/', { signal })),
})

export const listed = (which: 'companies' | 'kinds') =>
  queryOptions({
    queryKey: keyOf('setup', which),
    queryFn: ({ signal }) =>
      unwrap(
        which === 'companies'
          ? client.GET('/api/companies/', { signal })
          : client.GET('/api/kinds/', { signal }),
      ),
  })

export const ownFields = queryOptions({
  queryKey: keyOf('setup', 'own-fields'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/own-fields/', { signal })),
})

export const rules = queryOptions({
  queryKey: keyOf('setup', 'rules'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/register/', { signal })),
})

export const biometricRules = queryOptions({
  queryKey: keyOf('setup', 'biometric-rules'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/biometric-settings/', { signal })),
})

export const cardRules = queryOptions({
  queryKey: keyOf('setup', 'card-rules'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/card-settings/', { signal })),
})
