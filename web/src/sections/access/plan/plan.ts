import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type SitePlan = components['schemas']['PlanOut']
export type DoorPlace = SitePlan['places'][number]
export type AreaPlace = SitePlan['areas'][number]

export const sitePlan = (site: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('plan', site),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/sites/{id}/plan/', { params: { path: { id: toValue(site) } }, signal })),
  })

export function sendPicture(site: number, file: Blob) {
  const form = new FormData()
  form.append('image', file, 'plan')
  return unwrap(
    client.POST('/api/sites/{id}/plan/picture/', {
      params: { path: { id: site } },
      // the client's types know a file as text; what goes out is the form itself
      body: { image: '' },
      bodySerializer: () => form,
    }),
  )
}
