import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Operator = components['schemas']['OperatorRow']
export type Role = components['schemas']['RoleRow']
export type Token = components['schemas']['TokenRow']

export const operators = queryOptions({
  queryKey: keyOf('setup', 'operators'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/operators/', { signal })),
})

const rolesAndPermissions = {
  queryKey: keyOf('setup', 'roles'),
  queryFn: ({ signal }: { signal: AbortSignal }) => unwrap(client.GET('/api/roles/', { signal })),
}
export const roles = queryOptions({ ...rolesAndPermissions, select: (found) => found.roles })
/** Every permission there is, in the order of the work. */
export const permissions = queryOptions({ ...rolesAndPermissions, select: (found) => found.permissions })

export const tokens = queryOptions({
  queryKey: keyOf('setup', 'tokens'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/tokens/', { signal })),
})
