import { createI18n } from 'vue-i18n'

import type { Problem } from '@/api/client'

import { en } from './en'

// codes with dots in them are keys of their own, not paths
export const i18n = createI18n({ legacy: false, locale: 'en', messages: { en }, flatJson: false })

export const t = i18n.global.t

const problemWords: Record<string, string> = en.problems
const actionWords: Record<string, string> = en.actions
const fieldWords: Record<string, string> = en.fields

const plain = (value: unknown) => (typeof value === 'string' || typeof value === 'number' ? `${value}` : '')

/** Fill the places of a sentence whose key holds dots. */
function filled(sentence: string, params: Record<string, unknown>): string {
  return sentence.replace(/\{(\w+)\}/g, (_, name: string) => plain(params[name]))
}

/** Say what is wrong, in the operator's words. */
export function wordsFor(problem: Problem): string {
  const sentence = problemWords[problem.code]
  return sentence === undefined
    ? filled(en.problems.other, { code: problem.code })
    : filled(sentence, problem.params)
}

export const wordsForAction = (action: string) => actionWords[action] ?? action
export const wordsForField = (field: string) => fieldWords[field] ?? field
