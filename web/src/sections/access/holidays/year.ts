import type { Day } from './holidays'

/** Every day of a year on which a holiday of a calendar falls, as ISO 8601 writes it. */
export function daysOfYear(days: Day[], year: number): Partial<Record<string, Day>> {
  const found: Partial<Record<string, Day>> = {}
  const length = (day: Day) => Date.parse(day.last) - Date.parse(day.first)
  // of two at once the one with fewer days counts
  for (const day of [...days].sort((one, other) => length(one) - length(other)))
    for (const iso of day.is_yearly ? [...run(day, year - 1), ...run(day, year)] : run(day))
      if (iso.startsWith(String(year))) found[iso] ??= day
  return found
}

const A_DAY_MS = 86_400_000

/** The days of a holiday, or those of a yearly one that begins in a year: none where it has no such day. */
function run(day: Day, year = Number(day.first.slice(0, 4))): string[] {
  const first = new Date(`${year}${day.first.slice(4)}T00:00Z`)
  if (Number.isNaN(first.valueOf()) || first.toISOString().slice(4, 10) !== day.first.slice(4)) return []
  const count = 1 + Math.round((Date.parse(day.last) - Date.parse(day.first)) / A_DAY_MS)
  return Array.from({ length: Math.max(0, count) }, (_, n) =>
    new Date(first.valueOf() + n * A_DAY_MS).toISOString().slice(0, 10),
  )
}
