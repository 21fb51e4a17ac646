import { usePreferredLanguages, useStorage } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { createI18n } from 'vue-i18n'

import type { Problem } from '@/api/client'

import type { SameKeys } from './catalogue'
import type { first } from './en'
import type { rest } from './en/rest'

export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

/** What is needed at once, and what is fetched behind the Desk. */
export type FirstWords = SameKeys<typeof first>
export type RestOfWords = SameKeys<typeof rest>
export type Words = FirstWords & RestOfWords
/** How each language writes days and numbers: days as the site's country does. */
const LOCALES: Record<Language, string> = { en: 'en-GB', de: 'de-DE' }

const isLanguage = (text: string | undefined): text is Language => LANGUAGES.some((one) => one === text)

const browser = usePreferredLanguages()
const remembered = useStorage('cadrin.language', '')
/** The language of the page: the operator's; before anybody signs in the last one here, or the browser's. */
export const wantedLanguage = computed<Language>(() => {
  const wanted = [remembered.value, ...browser.value.map((one) => one.slice(0, 2))]
  return wanted.find(isLanguage) ?? 'en'
})
const shown = shallowRef<Language>('en')
/** The language that the page is in; another is in its place once its words have come. */
export const language = computed<Language>({
  get: () => shown.value,
  set: (chosen) => (remembered.value = chosen),
})

// codes with dots in them are keys of their own, not paths
export const i18n = createI18n({
  legacy: false,
  locale: 'en',
  messages: {} as Record<Language, Words>,
  flatJson: false,
})
/** The words of the language that the page is in. */
const words = shallowRef({} as Words)

/** What a code says as long as its words are not here. */
const NOT_HERE = { problems: { other: '{code}' }, actions: {}, fields: {} }

/** Show everything in a language, whose words are here; what is not here yet is not on the page. */
export function show(
  chosen: Language,
  first: FirstWords,
  rest: RestOfWords | typeof NOT_HERE = NOT_HERE,
): void {
  const catalogue = { ...first, ...rest } as Words
  i18n.global.setLocaleMessage(chosen, catalogue)
  i18n.global.locale.value = chosen
  words.value = catalogue
  shown.value = chosen
  document.documentElement.lang = chosen
}

/** The country by whose custom days and times are written; empty for that of the language. */
export const region = useStorage('cadrin.region', '')
/** The locale by which days, numbers and the order of names are written. */
export const localeTag = () => (region.value ? `${language.value}-${region.value}` : LOCALES[language.value])
export const numberWords = (number: number) => number.toLocaleString(localeTag())

/** Numbers that name something and count nothing: they are written as they are. */
const NAMES = new Set([
  'bit',
  'card_number',
  'facility_code',
  'highest_number',
  'level',
  'lowest_number',
  'number',
  'place',
  'row',
  'year',
])
const written = (params: Record<string, unknown>) =>
  Object.fromEntries(
    Object.entries(params).map(([name, value]) => [
      name,
      typeof value === 'number' && !NAMES.has(name) ? numberWords(value) : value,
    ]),
  )
/** Say a message; counts are written as the reader's country writes numbers, and choose between one and many. */
export const t = ((key: string, params: number | Record<string, unknown> = {}, plural?: number) => {
  const given: Record<string, unknown> = typeof params === 'number' ? {} : params
  const counted = [params, plural, given.count, given.n].find((one) => typeof one === 'number')
  if (counted === undefined) return i18n.global.t(key, written(given))
  const shown = { count: counted, n: counted, ...given }
  return i18n.global.t(key, written(shown), counted)
}) as typeof i18n.global.t

export const weekdays = () => words.value.days

/** Rows in the order in which somebody reading this language looks for their names. */
export function byName<T>(rows: readonly T[], nameOf: (row: T) => string): T[] {
  const order = new Intl.Collator(localeTag(), { numeric: true })
  return [...rows].sort((one, other) => order.compare(nameOf(one), nameOf(other)))
}

const plain = (value: unknown) => (typeof value === 'string' || typeof value === 'number' ? `${value}` : '')

/** Fill the places of a sentence whose key holds dots; of two forms the first is for one. */
function filled(sentence: string, params: Record<string, unknown>): string {
  const [one = '', many] = sentence.split(' | ')
  const given = written(params)
  return (many && params.count !== 1 ? many : one).replace(/\{(\w+)\}/g, (_, name: string) =>
    plain(given[name]),
  )
}

/** Say what is wrong, in the operator's words. */
export function wordsFor(problem: Problem): string {
  const known: Record<string, string> = words.value.problems
  const sentence = known[problem.code]
  return sentence === undefined
    ? filled(words.value.problems.other, { code: problem.code })
    : filled(sentence, problem.params)
}

export function wordsForAction(action: string): string {
  const known: Record<string, string> = words.value.actions
  return known[action] ?? action
}

/** Why a controller refused a record. */
export function refusalWords(code: string | undefined): string {
  const known: Record<string, string> = words.value.refusals
  return known[code ?? ''] ?? known.not_readable ?? ''
}

/** Every verdict on a read that a door knows, in words. */
export const everyReason = () =>
  byName(
    Object.entries<string>(words.value.reasons).map(([value, word]) => ({ value, word })),
    (one) => one.word,
  )

export function wordsForField(field: string): string {
  const known: Record<string, string> = words.value.fields
  return known[field] ?? field
}

/** The name of a role: those that came with Cadrin are called in the operator's language until they are renamed. */
export function wordsForRole(name: string): string {
  const known: Record<string, string> = words.value.admin.roleNames
  return known[name] ?? name
}
