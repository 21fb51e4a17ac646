import type { Group, House } from '@/api/client'
import type { Places } from '@/sections/setup/queries'
import { t } from '@/words'

/** What can be granted: areas, with all doors into them, and doors. One value stands for each. */
export function placesToGrant(doors: House['doors'], areas: Places['areas']) {
  return [
    {
      label: t('access.wholeAreas'),
      items: areas.map((one) => ({ value: `area ${one.id}`, name: one.name })),
    },
    { label: t('access.doors'), items: doors.map((one) => ({ value: `door ${one.id}`, name: one.name })) },
  ]
}
export const doorCount = (group: Group) => new Set(group.opens.map((one) => one.door)).size
