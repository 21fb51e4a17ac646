import type { HistoryEntry } from '@/api/client'
import { whenWords } from '@/kit/clock'
import { t, wordsForField } from '@/words'

const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d/

function plain(value: unknown): string {
  if (value === null || value === undefined || value === '') return t('common.none')
  if (Array.isArray(value)) return value.map(plain).join(', ')
  if (typeof value === 'string') return INSTANT.test(value) ? whenWords(value) : value
  return typeof value === 'number' ? String(value) : JSON.stringify(value)
}

const isEmpty = (value: unknown) => value === null || value === undefined || value === ''

/** Say what an act changed, field by field; what was empty before is only said as it is now. */
export function changesOf(entry: HistoryEntry): string[] {
  return Object.entries(entry.changes)
    .filter(([, [before, after]]) => !(isEmpty(before) && isEmpty(after)))
    .map(([field, [before, after]]) =>
      isEmpty(before) || before === after
        ? t('set', { field: wordsForField(field), after: plain(after) })
        : t('changed', { field: wordsForField(field), before: plain(before), after: plain(after) }),
    )
}
