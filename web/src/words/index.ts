import { usePreferredLanguages, useStorage } from '@vueuse/core'
import { computed, watch } from 'vue'
import { createI18n } from 'vue-i18n'

import type { Problem } from '@/api/client'

import { de } from './de'
import { en } from './en'

export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

const catalogues = { en, de }
/** How each language writes days and numbers: days as the site's country does. */
const LOCALES: Record<Language, string> = { en: 'en-GB', de: 'de-DE' }

const isLanguage = (text: string | undefined): text is Language => LANGUAGES.some((one) => one === text)

const browser = usePreferredLanguages()
const remembered = useStorage('cadrin.language', '')
/** The language of the page: the operator's; before anybody signs in the last one here, or the browser's. */
export const language = computed<Language>({
  get: () => {
    const wanted = [remembered.value, ...browser.value.map((one) => one.slice(0, 2))]
    return wanted.find(isLanguage) ?? 'en'
  },
  set: (chosen) => (remembered.value = chosen),
})

// codes with dots in them are keys of their own, not paths
export const i18n = createI18n({
  legacy: false,
  locale: language.value,
  fallbackLocale: 'en',
  messages: catalogues,
  flatJson: false,
})
watch(
  language,
  (chosen) => {
    i18n.global.locale.value = chosen
    document.documentElement.lang = chosen
  },
  { immediate: true, flush: 'sync' },
)

export const t = i18n.global.t

/** The locale by which days, numbers and the order of names are written. */
export const localeTag = () => LOCALES[language.value]
export const numberWords = (number: number) => number.toLocaleString(localeTag())
export const weekdays = () => catalogues[language.value].days

/** Rows in the order in which somebody reading this language looks for their names. */
export function byName<T>(rows: readonly T[], nameOf: (row: T) => string): T[] {
  const order = new Intl.Collator(localeTag(), { numeric: true })
  return [...rows].sort((one, other) => order.compare(nameOf(one), nameOf(other)))
}

const plain = (value: unknown) => (typeof value === 'string' || typeof value === 'number' ? `${value}` : '')

/** Fill the places of a sentence whose key holds dots. */
function filled(sentence: string, params: Record<string, unknown>): string {
  return sentence.replace(/\{(\w+)\}/g, (_, name: string) => plain(params[name]))
}

/** Say what is wrong, in the operator's words. */
export function wordsFor(problem: Problem): string {
  const words: Record<string, string> = catalogues[language.value].problems
  const sentence = words[problem.code]
  return sentence === undefined
    ? filled(catalogues[language.value].problems.other, { code: problem.code })
    : filled(sentence, problem.params)
}

export function wordsForAction(action: string): string {
  const words: Record<string, string> = catalogues[language.value].actions
  return words[action] ?? action
}

/** Why a controller refused a record. */
export function refusalWords(code: string | undefined): string {
  const words: Record<string, string> = catalogues[language.value].refusals
  return words[code ?? ''] ?? words.not_readable ?? ''
}

export function wordsForField(field: string): string {
  const words: Record<string, string> = catalogues[language.value].fields
  return words[field] ?? field
}

/** The name of a role: those that came with Cadrin are called in the operator's language until they are renamed. */
export function wordsForRole(name: string): string {
  const words: Record<string, string> = catalogues[language.value].admin.roleNames
  return words[name] ?? name
}
