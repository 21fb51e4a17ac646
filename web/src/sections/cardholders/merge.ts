import type { FileDraft } from '@/api/client'

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/** Of three lists, keep what I changed and take the rest as they have it; `identity` tells which is which. */
function mergeLists<T>(base: T[], mine: T[], theirs: T[], identity: (one: T) => string): T[] {
  const byIdentity = (list: T[]) => new Map(list.map((one) => [identity(one), one]))
  const [was, is] = [byIdentity(base), byIdentity(mine)]
  const kept = theirs
    .filter((one) => is.has(identity(one)) || !was.has(identity(one)))
    .map((one) => {
      const my = is.get(identity(one))
      return my !== undefined && !same(my, was.get(identity(one))) ? my : one
    })
  const known = byIdentity(theirs)
  return [...kept, ...mine.filter((one) => !known.has(identity(one)) && !same(one, was.get(identity(one))))]
}

const cardKey = (one: FileDraft['cards'][number]) => `${one.format}-${one.facility_code}-${one.card_number}`
const groupKey = (one: FileDraft['memberships'][number]) => `${one.group}`

/** Of three lists, say whether one thing in them was changed by both, and not in the same way. */
function listsClash<T>(base: T[], mine: T[], theirs: T[], identity: (one: T) => string): boolean {
  const [was, is, other] = [base, mine, theirs].map(
    (list) => new Map(list.map((one) => [identity(one), JSON.stringify(one)])),
  )
  return [...new Set([...base, ...mine, ...theirs].map(identity))].some(
    (key) =>
      is?.get(key) !== was?.get(key) && other?.get(key) !== was?.get(key) && is?.get(key) !== other?.get(key),
  )
}

/** The fields that both changed since, each in another way: only these have to be asked about. */
export function clashes(base: FileDraft, mine: FileDraft, theirs: FileDraft): (keyof FileDraft)[] {
  const fields = Object.keys(theirs) as (keyof FileDraft)[]
  return fields.filter((name) => {
    if (name === 'version') return false
    if (name === 'cards') return listsClash(base.cards, mine.cards, theirs.cards, cardKey)
    if (name === 'memberships')
      return listsClash(base.memberships, mine.memberships, theirs.memberships, groupKey)
    return !same(base[name], mine[name]) && !same(base[name], theirs[name]) && !same(mine[name], theirs[name])
  })
}

/**
 * Put what I changed on top of what was saved since, by somebody else or by myself: fields I did not touch take the
 * saved value, and of a list each thing by itself.
 */
export function merge(base: FileDraft, mine: FileDraft, theirs: FileDraft): FileDraft {
  const untouched = Object.fromEntries(
    Object.entries(theirs).filter(([name]) =>
      same(base[name as keyof FileDraft], mine[name as keyof FileDraft]),
    ),
  )
  const lists = Object.fromEntries(
    (['pins', 'plates'] as const).map((name) => [
      name,
      mergeLists<unknown>(base[name], mine[name], theirs[name], (one) => JSON.stringify(one)),
    ]),
  )
  return {
    ...mine,
    ...untouched,
    ...lists,
    version: theirs.version,
    cards: mergeLists(base.cards, mine.cards, theirs.cards, cardKey),
    memberships: mergeLists(base.memberships, mine.memberships, theirs.memberships, groupKey),
  }
}
