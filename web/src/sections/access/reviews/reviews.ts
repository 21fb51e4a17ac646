import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import { whenWords } from '@/kit/time/clock'
import type { Shape } from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

export type ReviewDue = components['schemas']['ReviewDueShape']
/** What is looked through: the people of an access group, or of a door. */
export interface Looked {
  kind: 'group' | 'door'
  id: number
  name: string
  remarks?: string
}

/** By what it stands in an address: doors are told from groups. */
export const reviewAddress = ({ kind, id }: Pick<Looked, 'kind' | 'id'>) =>
  kind === 'door' ? `door-${id}` : String(id)

export const dueReviews = queryOptions({
  queryKey: keyOf('reviews'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/reviews/', { signal })),
})

/** A door is reviewed as a group is, by the same paths. */
const OF_GROUPS = '/api/groups/{id}/review/'
const OF_DOORS = '/api/doors/{id}/review/' as typeof OF_GROUPS
const at = ({ kind, id }: Looked) => ({
  path: kind === 'door' ? OF_DOORS : OF_GROUPS,
  params: { path: { id } },
})
export const peopleToReview = (looked: MaybeRefOrGetter<Looked>) =>
  queryOptions({
    queryKey: keyOf('reviews', 'people', looked),
    queryFn: ({ signal }) => {
      const { path, params } = at(toValue(looked))
      return unwrap(client.GET(path, { params, signal }))
    },
  })
export function decideOf(looked: Looked, body: components['schemas']['ReviewDecisionRequest']) {
  const { path, params } = at(looked)
  return unwrap(client.POST(path, { params, body }))
}
export function endReviewOf(looked: Looked) {
  const { path, params } = at(looked)
  return unwrap(client.POST(`${path}end/` as '/api/groups/{id}/review/end/', { params }))
}
export const recordOf = (looked: Looked) => `${at(looked).path.replace('{id}', String(looked.id))}record/`

export function aboutReview(one: ReviewDue): string {
  const when = one.due_at
    ? t('reviews.dueAt', { when: whenWords(one.due_at) })
    : one.last_at
      ? t('reviews.lastAt', { when: whenWords(one.last_at) })
      : t('reviews.neverDone')
  return one.is_under_way ? `${when}, ${t('reviews.left', one.left)}` : when
}

const SHAPES: Record<ReviewDue['state'], Shape> = {
  overdue: 'cross',
  soon: 'ring',
  done: 'disc',
  none: 'ring',
}
export const markOfReview = (one: ReviewDue) => ({
  shape: SHAPES[one.state],
  word: t(`reviews.states.${one.state}`),
})
