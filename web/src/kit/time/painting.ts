import type { Hours } from './hours'

const MINUTES_A_DAY = 1440
const MINUTES_A_WEEK = 7 * MINUTES_A_DAY

/** A stretch of the week in minutes from Monday’s midnight; one that passes Sunday’s goes on on Monday. */
export interface Stretch {
  from: number
  to: number
}

/** The stretches of a week that are open, in order, none longer than to the end of the week. */
function stretches(hours: Hours): Stretch[] {
  const cut = hours.flatMap(([day = 0, start = 0, end = 0]) =>
    within({ from: day * MINUTES_A_DAY + start, to: day * MINUTES_A_DAY + end }),
  )
  return joined(cut)
}

function within({ from, to }: Stretch): Stretch[] {
  if (to <= MINUTES_A_WEEK) return from < to ? [{ from, to }] : []
  return [
    { from, to: MINUTES_A_WEEK },
    { from: 0, to: to - MINUTES_A_WEEK },
  ]
}

function joined(found: Stretch[]): Stretch[] {
  const inOrder = [...found].sort((one, other) => one.from - other.from)
  const whole: Stretch[] = []
  for (const one of inOrder) {
    const last = whole.at(-1)
    if (last && one.from <= last.to) last.to = Math.max(last.to, one.to)
    else whole.push({ ...one })
  }
  return whole
}

const without = (found: Stretch[], gone: Stretch) =>
  found.flatMap(({ from, to }) =>
    [
      { from, to: Math.min(to, gone.from) },
      { from: Math.max(from, gone.to), to },
    ].filter((one) => one.from < one.to),
  )

/** Write stretches as windows of days: one across midnight stays one, a longer one is cut at midnights. */
function windows(found: Stretch[]): Hours {
  const [first] = found
  const last = found.at(-1)
  const isWrapped = first && last && first !== last && first.from === 0 && last.to === MINUTES_A_WEEK
  const whole = isWrapped
    ? [...found.slice(1, -1), { from: last.from, to: MINUTES_A_WEEK + first.to }]
    : found
  return whole
    .flatMap((one) => (one.to - one.from > MINUTES_A_DAY ? byDays(one) : [one]))
    .map(({ from, to }) => {
      const day = Math.floor(from / MINUTES_A_DAY) % 7
      const start = from % MINUTES_A_DAY
      return [day, start, start + to - from]
    })
    .sort(([oneDay = 0, one = 0], [otherDay = 0, other = 0]) => oneDay - otherDay || one - other)
}

function byDays({ from, to }: Stretch): Stretch[] {
  const found: Stretch[] = []
  for (let start = from; start < to;) {
    const end = Math.min(to, (Math.floor(start / MINUTES_A_DAY) + 1) * MINUTES_A_DAY)
    found.push({ from: start, to: end })
    start = end
  }
  return found
}

/** Light a stretch of the week, or darken it. */
export function painted(hours: Hours, stretch: Stretch, isLit: boolean): Hours {
  const parts = within(stretch)
  const found = stretches(hours)
  return windows(isLit ? joined([...found, ...parts]) : parts.reduce(without, found))
}

/** Say whether a minute of the week is open. */
export const isLitAt = (hours: Hours, minute: number) =>
  stretches(hours).some(({ from, to }) => from <= minute && minute < to)

/** Let other days have the same windows as one; those that reach into them from the day before stay. */
export function copied(hours: Hours, day: number, others: readonly number[]): Hours {
  const own = hours.filter(([weekday]) => weekday === day)
  const kept = hours.filter(([weekday = 0]) => weekday === day || !others.includes(weekday))
  const anew = others
    .filter((other) => other !== day)
    .flatMap((other) => own.map(([, start = 0, end = 0]) => [other, start, end]))
  return windows(stretches([...kept, ...anew]))
}

/** What of the week lies on one day, in minutes of that day. */
export function litOfDay(hours: Hours, day: number): Stretch[] {
  const start = day * MINUTES_A_DAY
  return stretches(hours)
    .map(({ from, to }) => ({
      from: Math.max(0, from - start),
      to: Math.min(MINUTES_A_DAY, to - start),
    }))
    .filter(({ from, to }) => from < to)
}
