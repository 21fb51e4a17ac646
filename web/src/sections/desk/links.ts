import type { CardholderRow, Line } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import { t } from '@/words'

const PART_OF_NEED: Record<string, string> = {
  no_card: 'cards',
  no_card_in_force: 'cards',
  card_not_read: 'cards',
  no_plate: 'plates',
  no_pin: 'pins',
  no_pin_in_force: 'pins',
}
/** Where what somebody lacks first is mended. */
export function mendLink(row: CardholderRow) {
  const gap = row.gaps[0]
  return gap === 'not_held'
    ? { name: 'delivery' }
    : {
        name: 'cardholder',
        params: { id: row.id },
        hash: `#${PART_OF_NEED[gap ?? ''] ?? 'access'}`,
      }
}
/** What is amiss with a controller, the worst first. */
export function trouble(one: Line): string {
  if (one.still_works) return t('desk.stillWorks', one.still_works)
  if (one.failed_at)
    return t('desk.silentSince', {
      when: whenWords(one.failed_at),
      count: one.counts.waiting + one.counts.sent + one.counts.adrift,
    })
  if (one.left_out) return t('delivery.leftOut', one.left_out)
  if (one.schedules_left_out.length)
    return t('delivery.withoutSchedules', { names: one.schedules_left_out.join(', ') })
  const [incident] = one.incidents
  if (incident) return t(`incidents.${incident.kind}`, { detail: incident.detail })
  if (one.is_late && !one.answered_at) return t('desk.lateNever')
  if (one.is_late) return t('desk.late', { when: whenWords(one.answered_at ?? '') })
  if (one.counts.refused) return t('desk.refuses', { count: one.counts.refused })
  return t('desk.clockOff', { minutes: Math.round(one.clock_off_seconds / 60) })
}
