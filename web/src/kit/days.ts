import { localeTag } from '@/words'

/** Read 24.11.2026, 24/11/26 or 2026-11-24 as ISO 8601 writes it; null for nothing, undefined for no day at all. */
export function readDay(written: string): string | null | undefined {
  if (!written.trim()) return null
  const iso = /^\s*(\d{4})-(\d{1,2})-(\d{1,2})\s*$/.exec(written)
  const local = /^\s*(\d{1,2})[./ ](\d{1,2})[./ ](\d{2}|\d{4})\s*$/.exec(written)
  const found = iso ? [iso[3], iso[2], iso[1]] : local ? [local[1], local[2], local[3]] : null
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
  new Intl.DateTimeFormat(localeTag(), {
    timeZone: 'UTC',
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  }).format(new Date(`${day}T00:00Z`))

/** Write a day as the site does. */
export const writtenDay = (day: string | null) => (day ? day.split('-').reverse().join('.') : '')
