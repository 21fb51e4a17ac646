import type { FileDraft, HistoryEntry, House } from '@/api/client'
import { cardWords } from '@/kit/said/card'
import { endWords, whenWords } from '@/kit/time/clock'
import { dayText, type Hours } from '@/kit/time/hours'
import { labelOf } from '@/kit/said/labels'
import { writtenDay } from '@/kit/time/days'
import { i18n, t, weekdays, wordsFor, wordsForField } from '@/words'

const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d/

function plain(value: unknown): string {
  if (value === null || value === undefined || value === '') return t('common.none')
  if (Array.isArray(value)) return value.map(plain).join(', ')
  if (typeof value === 'string') return INSTANT.test(value) ? whenWords(value) : value
  if (typeof value === 'boolean') return t(value ? 'answers.yes' : 'answers.no')
  if (typeof value === 'object')
    return Object.entries(value)
      .filter(([, part]) => !isEmpty(part))
      .map(([name, part]) => `${wordsForField(name)}: ${valueWords(name, part)}`)
      .join(', ')
  return typeof value === 'number' ? String(value) : ''
}

const isEmpty = (value: unknown) =>
  value === null || value === undefined || value === '' || value === false || JSON.stringify(value) === '[]'

/** Where the words for a value are, by the field that the journal has. */
const WORDS_OF: Record<string, string> = {
  status: 'statuses',
  standing: 'standings',
  permissions: 'permissions',
  act: 'batches.acts',
  mode: 'readersSetup.modes',
  policy: 'factors',
  factors: 'factors',
  finger: 'fingers.names',
  how: 'consents.hows',
  duress: 'cardRules.duressRules',
}

/** Hours of a week in words: those of a schedule are windows, those of a card stand beside their zone. */
function hoursWords(value: unknown): string | null {
  const windows = value && typeof value === 'object' && 'hours' in value ? value.hours : value
  if (!Array.isArray(windows) || !windows.every(Array.isArray)) return null
  return weekdays()
    .map((day, place) => ({ day, text: dayText(windows as Hours, place) }))
    .filter(({ text }) => text)
    .map(({ day, text }) => `${day} ${text}`)
    .join(', ')
}

/** A value of the journal in words: a code in the operator's language, everything else as it is. */
function valueWords(field: string, value: unknown): string {
  if (field === 'hours') return hoursWords(value) ?? plain(value)
  if (Array.isArray(value)) return value.map((one) => valueWords(field, one)).join(', ') || t('common.none')
  if (typeof value !== 'string' || !value) return plain(value)
  if (field === 'policy' && value.includes('+'))
    return value
      .split('+')
      .map((factor) => valueWords(field, factor))
      .join(` ${t('factors.and')} `)
  if (field === 'why') return wordsFor({ code: value, field: null, params: {} })
  if (/^\d{4}-\d\d-\d\d$/.test(value)) return writtenDay(value)
  if (field.endsWith('expiry_at') && INSTANT.test(value)) return endWords(value)
  const key = `${WORDS_OF[field]}.${value}`
  return field in WORDS_OF && i18n.global.te(key) ? i18n.global.t(key) : plain(value)
}

/** A field of a file in words, for putting two beside each other. */
export function shownValue(field: keyof FileDraft, of: FileDraft, choices: House): string {
  const named = (all: { id: number; name: string }[], id: number | null | undefined) =>
    all.find((one) => one.id === id)?.name ?? ''
  switch (field) {
    case 'department':
      return named(choices.departments, of.department)
    case 'company':
      return named(choices.companies, of.company)
    case 'kind':
      return named(choices.kinds, of.kind)
    case 'standing':
      return t(`standings.${of.standing}`)
    case 'cards':
      return of.cards.map((card) => cardWords({ raw: '', ...card })).join(', ')
    case 'pins':
      // how many, and never what was typed
      return String(of.pins.length)
    case 'biometrics':
      return (of.biometrics?.fingers ?? []).map((one) => t(`fingers.names.${one.finger}`)).join(', ')
    case 'memberships':
      return of.memberships.map((one) => named(choices.groups, one.group)).join(', ')
    case 'images':
      return t('photos.count', of.images.filter(Boolean).length)
    case 'own':
      return choices.custom_fields
        .filter((one) => of.own[one.id])
        .map((one) => `${labelOf(one.labels)}: ${of.own[one.id]}`)
        .join('; ')
    case 'extended_time':
      return t(of.extended_time ? 'answers.yes' : 'answers.no')
    default:
      return isEmpty(of[field]) ? '' : plain(of[field])
  }
}

/** Say what an act changed, field by field; what was empty before is only said as it is now. */
export function changesOf(entry: HistoryEntry): string[] {
  return Object.entries(entry.changes)
    .filter(([, [before, after]]) => !(isEmpty(before) && isEmpty(after)))
    .map(([field, [before, after]]) =>
      isEmpty(before) || before === after
        ? t('set', { field: wordsForField(field), after: valueWords(field, after) })
        : t('changed', {
            field: wordsForField(field),
            before: valueWords(field, before),
            after: valueWords(field, after),
          }),
    )
}
