import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'

import { localeTag, t } from '@/words'

import { dateFormat } from './formats'
import { clockWords, hasTwelveHours } from './region'

/** The site whose clock the house goes by; set once the house is known. */
export const siteZone = ref('UTC')

const parts = (zone: string) =>
  dateFormat('en-GB', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hourCycle: 'h23',
  })

/** What the clock on the site's wall shows at an instant. */
export interface Wall {
  day: string
  time: string
  seconds: string
}

const DAY_ALONE = /^\d{4}-\d\d-\d\d$/
const ON_THE_WALL = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/

/** What was typed and is not saved yet has no offset: it is what the wall shows, whatever the zone. */
function placed(instant: string | Date): { date: Date; zone: string } {
  if (typeof instant === 'string' && DAY_ALONE.test(instant))
    return { date: new Date(`${instant}T24:00Z`), zone: 'UTC' }
  if (typeof instant === 'string' && ON_THE_WALL.test(instant))
    return { date: new Date(`${instant}Z`), zone: 'UTC' }
  return { date: new Date(instant), zone: siteZone.value }
}
/** When something ends, for comparing; what is not saved yet is a few hours off at most. */
export const endOf = (instant: string) => placed(instant).date

export function wallOf(instant: string | Date): Wall {
  const { date, zone } = placed(instant)
  const found = Object.fromEntries(
    parts(zone)
      .formatToParts(date)
      .map((one) => [one.type, one.value]),
  )
  return {
    day: `${found.year}-${found.month}-${found.day}`,
    time: `${found.hour}:${found.minute}`,
    seconds: `${found.hour}:${found.minute}:${found.second}`,
  }
}

const format = (options: Intl.DateTimeFormatOptions) => (instant: string | Date) => {
  const { date, zone } = placed(instant)
  return dateFormat(localeTag(), { timeZone: zone, ...options }).format(date)
}

export const dayWords = format({ day: 'numeric', month: 'short', year: 'numeric' })
const shortDay = format({ weekday: 'short', day: 'numeric', month: 'short' })
const shortestDay = format({ day: 'numeric', month: 'short' })
export const weekdayWords = format({ weekday: 'short' })

/** A day and a time as short as they are clear: today needs no day, another year needs its year. */
export function whenWords(instant: string | Date): string {
  const wall = wallOf(instant)
  const today = wallOf(new Date())
  if (wall.day === today.day) return clockWords(wall.time)
  const day = wall.day.slice(0, 4) === today.day.slice(0, 4) ? shortDay(instant) : dayWords(instant)
  return `${day}, ${clockWords(wall.time)}`
}

const isMidnight = (instant: string | Date) => wallOf(instant).time === '00:00'
/** The day before one that begins, as the wall has it. */
function dayBefore(instant: string | Date): string {
  const day = new Date(`${wallOf(instant).day}T00:00Z`)
  day.setUTCDate(day.getUTCDate() - 1)
  return `${day.toISOString().slice(0, 10)}T00:00`
}

/** When something ends: what lasts through a day ends at its 24:00 (ISO 8601-1:2019/Amd 1:2022). */
export function endWords(instant: string | Date): string {
  if (!isMidnight(instant)) return whenWords(instant)
  const last = dayBefore(instant)
  const isThisYear = wallOf(last).day.slice(0, 4) === wallOf(new Date()).day.slice(0, 4)
  return `${isThisYear ? shortDay(last) : dayWords(last)}, ${hasTwelveHours() ? t('common.midnight') : '24:00'}`
}

/** The last day of something, with the hour unless it lasts through that day. */
export const lastDayWords = (instant: string | Date) =>
  isMidnight(instant)
    ? dayWords(dayBefore(instant))
    : `${dayWords(instant)}, ${clockWords(wallOf(instant).time)}`

/** How old something is, in days, or in years from two on. */
export function ageWords(instant: string | Date): string {
  const days = Math.floor((Date.now() - new Date(instant).getTime()) / 86_400_000)
  const years = Math.floor(days / 365)
  const words = (unit: string) =>
    new Intl.NumberFormat(localeTag(), { style: 'unit', unit, unitDisplay: 'narrow' })
  return years < 2 ? words('day').format(days) : words('year').format(years)
}

/** The moment of a read, to the second. */
export function momentWords(instant: string | Date): string {
  const wall = wallOf(instant)
  const time = clockWords(wall.seconds)
  return wall.day === wallOf(new Date()).day ? time : `${shortestDay(instant)} ${time}`
}

/** The name of a zone's time at an instant, such as GMT. */
export function zoneWords(instant: string | Date): string {
  const found = dateFormat(localeTag(), { timeZone: siteZone.value, timeZoneName: 'short' })
  return found.formatToParts(new Date(instant)).find((one) => one.type === 'timeZoneName')?.value ?? ''
}

/** Now, moving on each second. */
export function useSiteClock() {
  const now = useNow({ interval: 1000 })
  return computed(() => ({
    day: shortDay(now.value),
    time: clockWords(wallOf(now.value).seconds),
    zone: zoneWords(now.value),
  }))
}
