import type { DoorReach, House } from '@/api/client'

/** A door as Reach shows it. */
export interface ReachRow {
  id: number
  name: string
  reach: DoorReach
  isOld: boolean
  /** The way out is open while the way in is shut, or the other way round. */
  isOtherOut: boolean
}
export interface ReachArea {
  name: string
  doors: ReachRow[]
}

/** More doors than these are folded: those that open at some time of the week stand there, the others are
 * found by typing, or shown on request. */
export const MANY = 12

const isLit = (row: ReachRow) => row.reach.open_spans.length > 0
const rank = (row: ReachRow) => (row.reach.is_open ? 0 : isLit(row) ? 1 : 2)

/** The doors by their areas, where they come in first, and how many are folded away. */
export function reachByArea(
  reach: DoorReach[],
  doors: House['doors'],
  stillWorksAt: number[],
  sought: string,
  isWhole: boolean,
): { areas: ReachArea[]; folded: number } {
  const isMany = reach.length > MANY
  const text = isMany ? sought.trim().toLowerCase() : ''
  const reachOf = new Map(reach.map((one) => [one.door, one]))
  const found = new Map<string, ReachArea>()
  let folded = 0
  for (const door of doors) {
    const own = reachOf.get(door.id)
    if (!own) continue
    const isOtherOut = own.reason_out !== null && (own.reason_out === 'granted') !== own.is_open
    const isOld = stillWorksAt.includes(door.controller_id)
    const row = { id: door.id, name: door.name, reach: own, isOld, isOtherOut }
    if (text && !`${door.name} ${door.area_name}`.toLowerCase().includes(text)) continue
    if (isMany && !text && !isWhole && !isOld && !isLit(row)) {
      folded += 1
      continue
    }
    const key = `${door.site_name} ${door.area_name}`
    const area = found.get(key) ?? { name: door.area_name, doors: [] }
    found.set(key, area)
    area.doors.push(row)
  }
  const all = [...found.values()]
  if (isMany) for (const area of all) area.doors.sort((one, other) => rank(one) - rank(other))
  const comesIn = (area: ReachArea) => area.doors.some(isLit)
  return { areas: [...all.filter(comesIn), ...all.filter((area) => !comesIn(area))], folded }
}
