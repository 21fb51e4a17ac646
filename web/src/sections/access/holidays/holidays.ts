import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'

export type Calendar = components['schemas']['HolidayCalendarShape']
export type Day = components['schemas']['DayShape']
export type Kind = components['schemas']['Kind']
export type FoundDay = components['schemas']['FoundDay']

export const MINUTES_A_DAY = 1440

export const holidays = queryOptions({
  queryKey: ['schedules', 'holidays'],
  queryFn: ({ signal }) => unwrap(client.GET('/api/holidays/', { signal })),
})

/** Every day of a year on which a holiday of a calendar falls, as ISO 8601 writes it. */
export function daysOfYear(days: Day[], year: number): Map<string, Day> {
  const found = new Map<string, Day>()
  for (const day of days) {
    const [first, last] = day.is_yearly
      ? [`${year}${day.first.slice(4)}`, shifted(day, year)]
      : [day.first, day.last]
    for (let at = new Date(`${first}T00:00Z`); at <= new Date(`${last}T00:00Z`);) {
      const iso = at.toISOString().slice(0, 10)
      if (iso.startsWith(String(year)) && !found.has(iso)) found.set(iso, day)
      at = new Date(at.valueOf() + 86_400_000)
    }
  }
  return found
}

/** The last day of a yearly holiday that begins in a year. */
function shifted(day: Day, year: number) {
  const more = Number(day.last.slice(0, 4)) - Number(day.first.slice(0, 4))
  return `${year + more}${day.last.slice(4)}`
}
