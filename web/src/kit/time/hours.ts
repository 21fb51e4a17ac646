import type { OpenSpan } from '@/api/client'

import { clockWords, hasTwelveHours, readClock } from './region'

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

/** Write a minute of a day as the region does; one of the next day as its clock shows it. */
export const clockText = (minute: number) =>
  clockWords(minute === MINUTES_A_DAY ? '24:00' : `${two(Math.floor(minute / 60) % 24)}:${two(minute % 60)}`)

/** Write one day's windows: `07:30-18:30, 21:30-02:30`, or `7:30 am-6:30 pm` where clocks have twelve hours. */
export function dayText(hours: Hours, weekday: number): string {
  return hours
    .filter(([day]) => day === weekday)
    .sort(([, one = 0], [, other = 0]) => one - other)
    .map(([, start = 0, end = 0]) => `${clockText(start)}-${clockText(end)}`)
    .join(', ')
}

/** Hours as an example, by day and across midnight. */
export const exampleHours = () => ({
  day: dayText([[0, 450, 1110]], 0),
  night: dayText([[0, 1290, 1590]], 0),
})

function minuteOf(written: string): number | undefined {
  const [hour, minute] = readClock(written)?.split(':').map(Number) ?? []
  return hour === undefined || minute === undefined ? undefined : hour * 60 + minute
}

/** Where clocks have twelve hours, 9-5 may be a day or a night: it is asked for, never guessed. */
const isUnclear = (from: string, to: string) =>
  hasTwelveHours() && Number.parseInt(from) <= 12 && !(/[ap]/i.test(from) && /[ap]/i.test(to))

/**
 * Read one day's windows: `07:30-18:15`, `7.30 – 18.15`, `730-1815`, `8-12` or `8am-5:30pm`; null when they cannot
 * be read. An end that is before its start is on the next day.
 */
export function dayHours(text: string, weekday: number): Hours | null {
  const found: Hours = []
  for (const part of text.split(/[,;]/)) {
    if (!part.trim()) continue
    const [from = '', to = '', ...more] = part.split(/[-–—]/)
    const start = minuteOf(from)
    let end = minuteOf(to)
    if (start === undefined || end === undefined || more.length || start >= MINUTES_A_DAY) return null
    if (end < start && isUnclear(from, to)) return null
    if (end < start || end === 0) end += MINUTES_A_DAY
    found.push([weekday, start, end])
  }
  return found
}
