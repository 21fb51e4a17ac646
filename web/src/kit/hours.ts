import type { OpenSpan } from '@/api/client'

/** Windows of a week as the API has them: weekday from Monday 0, start and end in minutes of that day. */
export type Hours = number[][]

const MINUTES_A_DAY = 1440
const MINUTES_A_WEEK = 7 * MINUTES_A_DAY
const MONDAY = Date.UTC(1970, 0, 5)
const instant = (minute: number) => new Date(MONDAY + minute * 60_000).toISOString()

/** A week of no date, in which a schedule is drawn. */
export const plainWeek: OpenSpan = { start: instant(0), end: instant(MINUTES_A_WEEK) }

export function litIn(hours: Hours): OpenSpan[] {
  return hours.flatMap(([weekday = 0, start = 0, end = 0]) => {
    const [from, to] = [weekday * MINUTES_A_DAY + start, weekday * MINUTES_A_DAY + end]
    const within = { start: instant(from), end: instant(Math.min(to, MINUTES_A_WEEK)) }
    // the night from Sunday to Monday goes on at the beginning
    return to > MINUTES_A_WEEK ? [within, { start: instant(0), end: instant(to - MINUTES_A_WEEK) }] : [within]
  })
}

const two = (value: number) => String(value).padStart(2, '0')
const clock = (minute: number) =>
  minute === MINUTES_A_DAY ? '24:00' : `${two(Math.floor(minute / 60) % 24)}:${two(minute % 60)}`

/** Write a minute of a day; one of the next day as its clock shows it. */
export const clockText = clock

/** Write one day's windows: `07:30-18:30, 21:30-02:30`. */
export function dayText(hours: Hours, weekday: number): string {
  return hours
    .filter(([day]) => day === weekday)
    .sort(([, one = 0], [, other = 0]) => one - other)
    .map(([, start = 0, end = 0]) => `${clock(start)}-${clock(end)}`)
    .join(', ')
}

/** `07:30-18:15`, `7.30 – 18.15`, `730-1815` or `8-12`. */
const WINDOW = /^\s*(\d{1,2})(?:[:.]?(\d{2}))?\s*[-–—]\s*(\d{1,2})(?:[:.]?(\d{2}))?\s*$/

/** Read one day's windows; null when they cannot be read. An end that is before its start is on the next day. */
export function dayHours(text: string, weekday: number): Hours | null {
  const found: Hours = []
  for (const part of text.split(/[,;]/)) {
    if (!part.trim()) continue
    const match = WINDOW.exec(part)
    if (!match) return null
    const [, fromHour, fromMinute = '0', toHour, toMinute = '0'] = match
    const start = Number(fromHour) * 60 + Number(fromMinute)
    let end = Number(toHour) * 60 + Number(toMinute)
    if (Number(fromMinute) > 59 || Number(toMinute) > 59 || start >= MINUTES_A_DAY || end > MINUTES_A_DAY)
      return null
    if (end < start) end += MINUTES_A_DAY
    found.push([weekday, start, end])
  }
  return found
}
