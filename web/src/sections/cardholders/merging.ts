import type { FileDraft } from '@/api/client'

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)
export const isEmpty = (value: unknown) =>
  value === null || value === undefined || value === '' || same(value, {}) || same(value, [])

const CHOSEN: (keyof FileDraft)[] = [
  'number',
  'external_id',
  'first_name',
  'last_name',
  'display_override',
  'title',
  'kind',
  'department',
  'company',
  'email',
  'phones',
  'language',
  'born_on',
  'extended_time',
  'remarks',
  'own',
  'images',
  'standing',
  'activation_at',
  'expiry_at',
]

/** The fields in which two records differ, in the order of the page. */
export const differing = (one: FileDraft, other: FileDraft) =>
  CHOSEN.filter((field) => !same(one[field], other[field]) && !isEmpty(other[field]))

/** The one file that two records shall be: what was chosen of the other, and the cards and groups of both. */
export function combined(one: FileDraft, other: FileDraft, taken: Iterable<string>): FileDraft {
  const ofOther = new Set(taken)
  const chosen = Object.fromEntries(
    CHOSEN.filter((field) => ofOther.has(field)).map((field) => [field, other[field]]),
  )
  const groups = new Set(one.memberships.map((membership) => membership.group))
  return {
    ...one,
    ...chosen,
    version: one.version,
    cards: [...one.cards, ...other.cards],
    memberships: [...one.memberships, ...other.memberships.filter(({ group }) => !groups.has(group))],
  }
}
