import { computed } from 'vue'

import type { House } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import { byName, t, wordsForField } from '@/words'

import type { Intake } from './intake'

/** What a column may be taken for, each with its word, in the order of the work. */
export function useTargets(intake: () => Intake | undefined, house: () => House | undefined) {
  const word = (target: string): string => {
    if (!target) return t('intake.targets.nothing')
    if (target.startsWith('own.')) return ownLabel(Number(target.slice(4)), house())
    return t(`intake.targets.${target as 'number'}`)
  }
  const targets = computed(() => (intake()?.targets ?? []).map((value) => ({ value, word: word(value) })))
  return { targets, word }
}

export function ownLabel(id: number, house: House | undefined): string {
  const labels = house?.custom_fields.find((one) => one.id === id)?.labels ?? {}
  return Object.values(labels)[0] ?? `${id}`
}

/** What a field that changes is called. */
export function fieldWord(field: string, house: House | undefined): string {
  if (field.startsWith('own.')) return ownLabel(Number(field.slice(4)), house)
  const known: Record<string, string> = {
    cards: t('columns.cards'),
    memberships: t('columns.groups'),
    pins: t('intake.targets.pin'),
    plates: t('intake.targets.plate'),
    images: t('intake.targets.photo'),
    photo: t('intake.targets.photo'),
  }
  return known[field] ?? wordsForField(field.replace(/_id$/, ''))
}

/** A value of a field that changes, in words. */
export function valueWord(field: string, text: string, house: House): string {
  if (!text) return '–'
  const named = (rows: { id: number; name: string }[]) =>
    rows.find((one) => `${one.id}` === text)?.name ?? text
  switch (field) {
    case 'department_id':
      return named(house.departments)
    case 'company_id':
      return named(house.companies)
    case 'kind_id':
      return named(house.kinds)
    case 'standing':
      return t(`standings.${text as 'active'}`)
  }
  return /^\d{4}-\d\d-\d\dT/.test(text) ? whenWords(text) : text
}

/** Departments in reading order, each with how deep it lies. */
export const departmentChoices = (house: House) =>
  house.departments
    .filter((one) => !one.is_retired)
    .map((one) => ({ ...one, word: `${'  '.repeat(one.depth)}${one.name}` }))

/** Names that a cell may be taken to say, for a column that chooses from a list. */
export function namesFor(target: string, house: House): { word: string; value: string }[] | null {
  const named = (rows: { name: string }[]) => rows.map(({ name }) => ({ word: name, value: name }))
  switch (target) {
    case 'department':
      // by number: two departments may have one name
      return departmentChoices(house).map((one) => ({ word: one.word, value: one.number }))
    case 'company':
      return named(house.companies.filter((one) => !one.is_retired))
    case 'kind':
      return named(house.kinds.filter((one) => !one.is_retired))
    case 'groups':
      return named(house.groups)
    case 'standing':
      return (['active', 'suspended', 'barred', 'departed'] as const).map((value) => ({
        word: t(`standings.${value}`),
        value,
      }))
    case 'extended_time':
      return [
        { word: t('intake.yes'), value: 'yes' },
        { word: t('intake.no'), value: 'no' },
      ]
  }
  if (!target.startsWith('own.')) return null
  const field = house.custom_fields.find((one) => one.id === Number(target.slice(4)))
  if (field?.type === 'yes_no')
    return [
      { word: t('intake.yes'), value: 'yes' },
      { word: t('intake.no'), value: 'no' },
    ]
  if (field?.type !== 'choice') return null
  return byName(
    field.choices.map((one) => ({ word: Object.values(one.labels)[0] ?? one.key, value: one.key })),
    (one) => one.word,
  )
}
