import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'

export const account = queryOptions({
  queryKey: keyOf('account'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/account/', { signal })),
})
