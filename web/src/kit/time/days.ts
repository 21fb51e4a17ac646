import { localeTag, t } from '@/words'

import { dateFormat } from './formats'
import { dayOrder } from './region'

/**
 * Read 24.11.2026, 24/11/26 or 2026-11-24 as ISO 8601 writes it; null for nothing, undefined for no day at all.
 * Which of two small numbers is the day, the operator's region says, and never the numbers.
 */
export function readDay(written: string): string | null | undefined {
  if (!written.trim()) return null
  const iso = /^\s*(\d{4})[-./](\d{1,2})[-./](\d{1,2})\s*$/.exec(written)
  const local = /^\s*(\d{1,2})[-./ ](\d{1,2})[-./ ](\d{2}|\d{4})\s*$/.exec(written)
  const order = dayOrder()
  const [first, second] = order === 'mdy' ? [2, 1] : [1, 2]
  // where the year comes first, nobody knows what two small numbers before it are
  const found = iso
    ? [iso[3], iso[2], iso[1]]
    : local && order !== 'ymd'
      ? [local[first], local[second], local[3]]
      : null
  if (!found) return undefined
  const two = (text: string | undefined) => (text ?? '0').padStart(2, '0')
  const year = found[2]?.length === 2 ? `20${found[2]}` : found[2]
  const day = `${year}-${two(found[1])}-${two(found[0])}`
  const read = new Date(`${day}T00:00Z`)
  // the 30th of February is read as a day of March: then it is none
  return Number.isNaN(read.valueOf()) || !read.toISOString().startsWith(day) ? undefined : day
}

/** The day some days after another, both as ISO 8601 writes them. */
export function dayAfter(day: string, days = 1): string {
  const found = new Date(`${day}T00:00Z`)
  found.setUTCDate(found.getUTCDate() + days)
  return found.toISOString().slice(0, 10)
}

/** A day with its weekday and the name of its month. */
export const understoodDay = (day: string) =>
  dateFormat(localeTag(), {
    timeZone: 'UTC',
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  }).format(new Date(`${day}T00:00Z`))

/** Write a day as the operator's region does, so that it is read again as it was meant. */
export function writtenDay(day: string | null): string {
  if (!day) return ''
  const [year, month, date] = day.split('-')
  const ways = { dmy: `${date}.${month}.${year}`, mdy: `${month}/${date}/${year}`, ymd: day }
  return ways[dayOrder()]
}
/** How a day is typed. */
export const dayHint = () => t(`common.${dayOrder()}`)
