import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import type { Shape } from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

export type DoorNow = components['schemas']['DoorNowOut']
export type ReleaseGroup = components['schemas']['ReleaseGroupOut']

/** How doors stand changes with nobody’s doing: it is asked again and again while it is looked at. */
const ASKED_EVERY_MS = 2000

export const doorsNow = queryOptions({
  queryKey: keyOf('doors', 'now'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/doors/now/', { signal })),
  refetchInterval: ASKED_EVERY_MS,
})

export const peopleIn = (area: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: keyOf('doors', 'people', area),
    queryFn: ({ signal }) =>
      unwrap(client.GET('/api/areas/{id}/people/', { params: { path: { id: toValue(area) } }, signal })),
    refetchInterval: ASKED_EVERY_MS,
  })

export const releaseGroups = queryOptions({
  queryKey: keyOf('doors', 'releases'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/release-groups/', { signal })),
})

const SHAPES: Record<DoorNow['lock'], Shape> = {
  locked: 'dash',
  released: 'disc',
  by_hours: 'disc',
  kept_open: 'disc',
  kept_shut: 'cross',
  closed: 'bar',
}

/** How a door stands, as a shape and a word; an alarm comes first. */
export function markOf(door: Pick<DoorNow, 'lock' | 'is_open' | 'alarm'>): { shape: Shape; word: string } {
  if (door.alarm) return { shape: 'cross', word: t(`doing.happenings.${door.alarm}`) }
  const words = [t(`locks.${door.lock}`), t(door.is_open ? 'doing.isOpen' : 'doing.isShut')]
  return { shape: SHAPES[door.lock], word: words.join(', ') }
}
