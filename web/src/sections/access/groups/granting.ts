import type { GroupDraft } from '@/api/client'

export type Grant = NonNullable<GroupDraft['grants']>[number]

/** One value for a door or an area that is granted. */
export const placeOf = ({ door, area }: Grant) => (area ? `area ${area}` : `door ${door}`)
export const WAYS = ['both', 'in', 'out'] as const
export type Way = (typeof WAYS)[number]
export function atPlace(place: string, schedule: number, way: Way = 'both'): Grant {
  const [kind, id] = place.split(' ')
  return {
    door: kind === 'door' ? Number(id) : null,
    area: kind === 'area' ? Number(id) : null,
    schedule,
    way,
  }
}

/** Grants in an address, so that a new group can begin with them: `door 3 by 5` is `d3-5`, and `d3-5-in`
 *  on the way in alone. */
export const asQuery = (grants: Grant[]) =>
  grants
    .map(({ area, door, schedule, way }) =>
      [area ? `a${area}` : `d${door}`, schedule, ...(way && way !== 'both' ? [way] : [])].join('-'),
    )
    .join(',')
export function fromQuery(text: unknown): Grant[] {
  if (typeof text !== 'string') return []
  return text.split(',').flatMap((part) => {
    const [, kind, id, schedule, only] = /^([ad])(\d+)-(\d+)(?:-(in|out))?$/.exec(part) ?? []
    const way = WAYS.find((one) => one === only)
    return id && schedule ? [atPlace(`${kind === 'a' ? 'area' : 'door'} ${id}`, Number(schedule), way)] : []
  })
}
