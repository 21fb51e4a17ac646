import { reactive, ref } from 'vue'
import { useRoute } from 'vue-router'

import type { paths } from '@/api/schema'

type Query = NonNullable<paths['/api/cardholders/']['get']['parameters']['query']>
export type Filters = Omit<Query, 'sort' | 'after'>

/** Leave out what is not asked for. */
export function filtersIn(filters: Filters): Filters {
  return Object.fromEntries(
    Object.entries(filters).filter(([, value]) => value !== null && value !== undefined && value !== ''),
  )
}

/** The filters of the list, begun from the address so that others can lead here. */
export function useFilters() {
  const { query } = useRoute()
  const number = (name: string) => (query[name] ? Number(query[name]) : undefined)
  const filters = reactive<Filters>({
    text: '',
    group: number('group'),
    department: number('department'),
    not_ready: query.not_ready === 'true' || undefined,
    by_card_alone: query.by_card_alone === 'true' || undefined,
    ending_within_days: number('ending_within_days'),
    starting_within_days: number('starting_within_days'),
    state: undefined,
    gap: undefined,
    company: undefined,
    kind: undefined,
    custom_field: undefined,
    custom_value: undefined,
  })
  const sort = ref('name')
  function clear() {
    for (const name of Object.keys(filters) as (keyof Filters)[]) filters[name] = undefined
  }
  function take(kept: Filters, order: string) {
    clear()
    Object.assign(filters, kept)
    sort.value = order
  }
  return { filters, sort, clear, take }
}
