import { computed, reactive, ref, watch } from 'vue'
import { type LocationQuery, useRoute, useRouter } from 'vue-router'

import type { paths } from '@/api/schema'
import { letGo } from '@/kit/controls/let-go'

type Query = NonNullable<paths['/api/cardholders/']['get']['parameters']['query']>
export type Filters = Omit<Query, 'sort' | 'after'>

const NUMBERS = [
  'group',
  'department',
  'company',
  'kind',
  'custom_field',
  'ending_within_days',
  'starting_within_days',
] as const
const YES = ['not_ready', 'by_card_alone'] as const
const TEXTS = ['text', 'state', 'gap', 'custom_value'] as const
const USUAL_ORDER = 'name'

/** A list that filters; leaving it once something is chosen makes the next letter a key again. */
export const asFilter = {
  optionLabel: 'word',
  optionValue: 'value',
  size: 'small',
  showClear: true,
  'onUpdate:modelValue': letGo,
} as const

/** Leave out what is not asked for. */
export function filtersIn(filters: Filters): Filters {
  return Object.fromEntries(
    Object.entries(filters).filter(([, value]) => value !== null && value !== undefined && value !== ''),
  )
}

/** Filters and order as an address carries them. */
export function asQuery(filters: Filters, sort: string): Record<string, string> {
  const plain = Object.entries(filtersIn(filters)).filter(([, value]) => value !== false)
  const query = Object.fromEntries(plain.map(([name, value]) => [name, String(value)]))
  return sort === USUAL_ORDER ? query : { ...query, sort }
}

/** What an address asks for; what cannot be read is not asked for. */
export function fromQuery(query: LocationQuery): { filters: Filters; sort: string } {
  const text = (name: string) => (typeof query[name] === 'string' ? query[name] : undefined)
  const number = (name: string) => (/^\d+$/.test(text(name) ?? '') ? Number(text(name)) : undefined)
  const read = <T>(names: readonly string[], by: (name: string) => T) =>
    Object.fromEntries(names.map((name) => [name, by(name)]))
  const filters = {
    ...read(NUMBERS, number),
    ...read(YES, (name) => text(name) === 'true' || undefined),
    ...read(TEXTS, text),
  }
  return { filters, sort: text('sort') ?? USUAL_ORDER }
}

/** The filters of the list. They stand in the address: others can lead here, and one comes back to them. */
export function useFilters() {
  const route = useRoute()
  const router = useRouter()
  const begun = fromQuery(route.query)
  const filters = reactive<Filters>(begun.filters)
  const sort = ref(begun.sort)
  function clear() {
    for (const name of Object.keys(filters) as (keyof Filters)[]) filters[name] = undefined
  }
  function take(kept: Filters, order: string) {
    clear()
    Object.assign(filters, kept)
    sort.value = order
  }
  const said = computed(() => asQuery(filters, sort.value))
  watch(said, (query) => {
    if (route.name === 'cardholders') void router.replace({ query })
  })
  watch(
    () => route.query,
    (query) => {
      if (route.name !== 'cardholders') return
      const asked = fromQuery(query)
      if (JSON.stringify(asQuery(asked.filters, asked.sort)) !== JSON.stringify(said.value))
        take(asked.filters, asked.sort)
    },
  )
  return { filters, sort, clear, take }
}
