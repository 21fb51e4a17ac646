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

/** Put what I changed on top of what somebody else saved: fields I did not touch take their value. */
export function merge(base: FileDraft, mine: FileDraft, theirs: FileDraft): FileDraft {
  const untouched = Object.fromEntries(
    Object.entries(theirs).filter(([name]) =>
      same(base[name as keyof FileDraft], mine[name as keyof FileDraft]),
    ),
  )
  return {
    ...mine,
    ...untouched,
    version: theirs.version,
    cards: mergeLists(
      base.cards,
      mine.cards,
      theirs.cards,
      (one) => `${one.format}-${one.facility_code}-${one.card_number}`,
    ),
    memberships: mergeLists(base.memberships, mine.memberships, theirs.memberships, (one) => `${one.group}`),
  }
}
