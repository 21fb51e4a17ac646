import type { components } from '@/api/schema'
import type { House } from '@/api/client'
import { t } from '@/words'

export type AtDoor = components['schemas']['AtDoorShape']

const LISTED = 5

/** Doors with their hours a week, the most first, in words. */
export function doorsWords(rows: AtDoor[], doors: House['doors']): string {
  const names = new Map(doors.map((one) => [one.id, one.name]))
  const most = [...rows].sort((one, other) => other.hours - one.hours)
  const listed = most
    .slice(0, LISTED)
    .map((one) => {
      const door = names.get(one.door_id) ?? '?'
      const side = one.way === 'both' ? door : t(`finder.oneWay.${one.way}`, { door })
      return t('finder.atDoor', { door: side, hours: one.hours })
    })
    .join(', ')
  const rest = rows.length - LISTED
  return rest > 0 ? `${listed} ${t('common.more', { count: rest })}` : listed
}
