import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'

export type Answer = components['schemas']['AnswerShape']
export type AnswerLine = Answer['lines'][number]

export const QUESTIONS = ['door', 'unused', 'alone', 'way', 'compare'] as const
export type Question = (typeof QUESTIONS)[number]

/** What is asked of a question; what it does not need is left alone. */
export interface Asked {
  door: number | null
  doors: number[]
  days: number | null
  cardholder: number | null
  other: number | null
  area: number | null
  at: string | null
}

/** The parameters of a question; null while something is missing. */
export function parametersOf(question: Question, asked: Asked): Record<string, string | number> | null {
  const at: Record<string, string> = asked.at === null ? {} : { at: asked.at }
  const { door, doors, days, cardholder, other, area } = asked
  switch (question) {
    case 'door':
      return door === null ? null : { door, ...at }
    case 'unused':
      return !doors.length || !days ? null : { doors: doors.join(','), days }
    case 'alone':
      return {}
    case 'way':
      return cardholder === null || area === null ? null : { cardholder, area, ...at }
    case 'compare':
      return cardholder === null || other === null ? null : { one: cardholder, other, ...at }
  }
}

/** Ask on the screen; as a file the same address answers with text. */
export async function answered(question: Question, query: object, signal: AbortSignal): Promise<Answer> {
  // each question has parameters of its own, which were made for it above
  const path = `/api/questions/${question}/` as '/api/questions/alone/'
  const found = await unwrap(client.GET(path, { params: { query }, signal }))
  if (typeof found === 'string') throw new Error('a file was not asked for')
  return found
}

/** The columns that any line has something in, in order. */
const COLUMNS = [
  'name',
  'number',
  'department',
  'door',
  'area',
  'group',
  'reason',
  'hours',
  'other_reason',
  'other_hours',
  'last_at',
] as const
export type AnswerColumn = (typeof COLUMNS)[number]
export function columnsOf(question: Question, lines: AnswerLine[]): AnswerColumn[] {
  const isUsed = (column: AnswerColumn) =>
    (question === 'unused' && column === 'last_at') ||
    lines.some((one) => one[column] !== null && one[column] !== '')
  return COLUMNS.filter(isUsed)
}
