import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'

import type { Listed } from './asked'

export type Answer = components['schemas']['AnswerShape']
export type AnswerLine = Answer['lines'][number]

/** Ask on the screen; as a file the same address answers with text. */
export async function answered(question: Listed, query: object, signal: AbortSignal): Promise<Answer> {
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
export function columnsOf(question: Listed, lines: AnswerLine[]): AnswerColumn[] {
  const isUsed = (column: AnswerColumn) =>
    (question === 'unused' && column === 'last_at') ||
    lines.some((one) => one[column] !== null && one[column] !== '')
  return COLUMNS.filter(isUsed)
}
