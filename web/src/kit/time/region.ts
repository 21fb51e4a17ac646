import { localeTag } from '@/words'

import { dateFormat } from './formats'

export type DayOrder = 'dmy' | 'mdy' | 'ymd'

/** In which order the operator's region writes a day (CLDR, as the browser has it). */
export function dayOrder(tag = localeTag()): DayOrder {
  const parts = dateFormat(tag, { year: 'numeric', month: '2-digit', day: '2-digit' })
    .formatToParts(new Date(0))
    .map((one) => one.type)
  if (parts.indexOf('year') < parts.indexOf('day')) return 'ymd'
  return parts.indexOf('month') < parts.indexOf('day') ? 'mdy' : 'dmy'
}

export const hasTwelveHours = () =>
  dateFormat(localeTag(), { hour: 'numeric' }).resolvedOptions().hour12 ?? false

/** The first day of the week there: 0 for Sunday. */
export function firstDayOfWeek(): number {
  const locale = new Intl.Locale(localeTag()) as Intl.Locale & {
    getWeekInfo?: () => { firstDay: number }
    weekInfo?: { firstDay: number }
  }
  return ((locale.getWeekInfo?.() ?? locale.weekInfo)?.firstDay ?? 1) % 7
}

/** Write a time of 24 hours, with or without seconds, as the region does: 17:30, or 5:30 pm. */
export function clockWords(time: string): string {
  if (!hasTwelveHours()) return time
  const [hour = '0', ...rest] = time.split(':')
  return `${Number(hour) % 12 || 12}:${rest.join(':')} ${Number(hour) % 24 < 12 ? 'am' : 'pm'}`
}

/** Read 17:30, 1730, 17, 5:30 pm or 5pm as a time of 24 hours; undefined for none. */
export function readClock(written: string): string | undefined {
  const found = /^\s*(\d{1,2})(?:[:.]?(\d{2}))?\s*([ap])?\.?(?:m\.?)?\s*$/i.exec(written)
  if (!found) return undefined
  const [, hour = '', minute = '00', half] = found
  let hours = Number(hour)
  if (half) {
    if (hours < 1 || hours > 12) return undefined
    hours = (hours % 12) + (half.toLowerCase() === 'p' ? 12 : 0)
  }
  const isTime = (hours < 24 && Number(minute) < 60) || (hours === 24 && minute === '00')
  return isTime ? `${String(hours).padStart(2, '0')}:${minute}` : undefined
}
