/** What can be asked of each question, and how it stands in an address. */
export const QUESTIONS = [
  'door',
  'area',
  'person',
  'group',
  'way',
  'compare',
  'instants',
  'unused',
  'alone',
  'matrix',
] as const
export type Question = (typeof QUESTIONS)[number]
/** Those that are answered by lines; the others by a picture. */
export type Listed = Exclude<Question, 'matrix'>

/** What is asked of a question; what it does not need is left alone. */
export interface Asked {
  door: number | null
  doors: number[]
  days: number | null
  cardholder: number | null
  other: number | null
  group: number | null
  area: number | null
  at: string | null
  otherAt: string | null
}
export const NOTHING_ASKED: Asked = {
  door: null,
  doors: [],
  days: 90,
  cardholder: null,
  other: null,
  group: null,
  area: null,
  at: null,
  otherAt: null,
}

const WITH_INSTANT: Question[] = ['door', 'area', 'person', 'group', 'way', 'compare', 'instants']
/** Whether a question may be asked of any instant. */
export const hasInstant = (question: Question) => WITH_INSTANT.includes(question)

/** The parameters of a question; null while something is missing. */
export function parametersOf(question: Listed, asked: Asked): Record<string, string | number> | null {
  const at: Record<string, string> = asked.at === null ? {} : { at: asked.at }
  const { door, doors, days, cardholder, other, group, area } = asked
  switch (question) {
    case 'door':
      return door === null ? null : { door, ...at }
    case 'area':
      return area === null ? null : { area, ...at }
    case 'person':
      return cardholder === null ? null : { cardholder, ...at }
    case 'group':
      return group === null ? null : { group, ...at }
    case 'unused':
      return !doors.length || !days ? null : { doors: doors.join(','), days }
    case 'alone':
      return {}
    case 'way':
      return cardholder === null || area === null ? null : { cardholder, area, ...at }
    case 'compare':
      return cardholder === null || other === null ? null : { one: cardholder, other, ...at }
    case 'instants':
      return cardholder === null || (asked.at === null && asked.otherAt === null)
        ? null
        : { cardholder, ...at, ...(asked.otherAt === null ? {} : { other_at: asked.otherAt }) }
  }
}

const NUMBERS = ['door', 'days', 'cardholder', 'other', 'group', 'area'] as const
const INSTANTS = ['at', 'otherAt'] as const

/** What is asked, as it stands in the address of the page. */
export function asQuery(asked: Asked): Record<string, string> {
  const query: Record<string, string> = {}
  for (const name of NUMBERS) if (asked[name] !== NOTHING_ASKED[name]) query[name] = String(asked[name])
  for (const name of INSTANTS) if (asked[name] !== null) query[name] = asked[name]
  if (asked.doors.length) query.doors = asked.doors.join(',')
  return query
}

/** Read what is asked from an address; what cannot be read is left out. */
export function fromQuery(query: Record<string, unknown>): Asked {
  const asked: Asked = { ...NOTHING_ASKED, doors: [] }
  const isNumber = (text: unknown): text is string => typeof text === 'string' && /^\d{1,15}$/.test(text)
  for (const name of NUMBERS) if (isNumber(query[name])) asked[name] = Number(query[name])
  for (const name of INSTANTS) {
    const text = query[name]
    if (typeof text === 'string' && !Number.isNaN(Date.parse(text))) asked[name] = text
  }
  if (typeof query.doors === 'string') asked.doors = query.doors.split(',').filter(isNumber).map(Number)
  return asked
}
