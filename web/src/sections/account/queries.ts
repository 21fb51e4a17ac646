import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'

export const account = queryOptions({
  queryKey: ['account'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/account/', { signal })),
})
