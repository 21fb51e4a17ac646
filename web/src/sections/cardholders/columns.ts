import { useLocalStorage } from '@vueuse/core'
import { computed, type MaybeRefOrGetter, toValue } from 'vue'

import type { CardholderRow, House } from '@/api/client'
import { dayWords, lastDayWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { labelOf } from '@/kit/said/labels'
import { t } from '@/words'

export interface ListColumn {
  key: string
  word: string
  /** What the API calls this order; none when the list cannot be put in order by it. */
  sort?: string
  text: (row: CardholderRow) => string
  isMono?: boolean
}
/** How wide columns are shown, in pixels, where an operator wants it otherwise than usual. */
export type Widths = Record<string, number>
const USUAL_WIDTH = 182
const [NARROWEST, WIDEST, STEP] = [62, 602, 40]

/** Make a column wider, or narrower; undefined where it is so already as far as it goes. */
export function widened(widths: Widths, key: string, by: 1 | -1): Widths | undefined {
  const width = (widths[key] ?? USUAL_WIDTH) + by * STEP
  return width < NARROWEST || width > WIDEST ? undefined : { ...widths, [key]: width }
}

const day = (instant: string | null) => (instant ? dayWords(instant) : '')

/** Name comes first and always; these can be chosen and put in order. */
const KNOWN: Record<string, Omit<ListColumn, 'key' | 'word'>> = {
  number: { sort: 'number', isMono: true, text: (row) => row.number },
  title: { sort: 'title', text: (row) => row.title },
  department: { sort: 'department', text: (row) => row.department_name ?? '' },
  company: { sort: 'company', text: (row) => row.company_name ?? '' },
  kind: { sort: 'kind', text: (row) => row.kind_name ?? '' },
  state: { text: (row) => t(`states.${row.state}`) },
  readiness: { text: () => '' },
  cards: { isMono: true, text: (row) => row.cards.join(' ') },
  groups: { text: (row) => row.groups.join(', ') },
  email: { sort: 'email', text: (row) => row.email },
  phones: { text: (row) => row.phones.join(', ') },
  language: { text: (row) => row.language },
  activation: { sort: 'activation', text: (row) => day(row.activation_at) },
  expiry: { sort: 'expiry', text: (row) => (row.expiry_at ? lastDayWords(row.expiry_at) : '') },
  remarks: { text: (row) => row.remarks },
}
export const USUAL = ['number', 'department', 'readiness', 'cards', 'groups', 'expiry']

function ownColumn(field: House['custom_fields'][number]): ListColumn {
  const words = new Map(field.choices.map((one) => [one.key, labelOf(one.labels) || one.key]))
  return {
    key: `own.${field.id}`,
    word: labelOf(field.labels),
    sort: `own.${field.id}`,
    text: (row) => {
      const value = row.own[String(field.id)] ?? ''
      if (field.type === 'choice') return words.get(value) ?? value
      if (field.type === 'yes_no' && value) return t(value === 'yes' ? 'answers.yes' : 'answers.no')
      return field.type === 'date' ? value.split('-').reverse().join('.') : value
    },
  }
}

/** The columns there are, and those this operator has chosen, in their order. */
export function useColumns(ownFields: MaybeRefOrGetter<House['custom_fields']>) {
  const operator = useSession().session?.operator ?? ''
  const keys = useLocalStorage<string[]>(`cadrin.columns.${operator}`, USUAL)
  const widths = useLocalStorage<Widths>(`cadrin.widths.${operator}`, {})
  const all = computed<ListColumn[]>(() => [
    ...Object.entries(KNOWN).map(([key, column]) => ({ key, word: t(`columns.${key}`), ...column })),
    ...toValue(ownFields).map(ownColumn),
  ])
  const chosen = computed(() =>
    keys.value.flatMap((key) => all.value.find((column) => column.key === key) ?? []),
  )
  return { all, keys, chosen, widths }
}
