import { computed, type MaybeRefOrGetter, reactive, toValue } from 'vue'

import type { components } from '@/api/schema'

import { type Filters, filtersIn } from './filters'

export type Selection = Pick<components['schemas']['BulkChangeShapeRequest'], 'ids' | 'filters' | 'without'>

/** Who is selected: some one by one, or all that match the filters without some. */
export function useSelection(filters: Filters, total: MaybeRefOrGetter<number>) {
  const state = reactive({ isAll: false, ids: new Set<number>() })

  const has = (id: number) => state.ids.has(id) !== state.isAll
  const count = computed(() => (state.isAll ? Math.max(0, toValue(total) - state.ids.size) : state.ids.size))
  function toggle(id: number) {
    if (!state.ids.delete(id)) state.ids.add(id)
  }
  function clear() {
    state.isAll = false
    state.ids.clear()
  }
  function selectAll() {
    state.isAll = true
    state.ids.clear()
  }
  function selectThese(ids: number[]) {
    clear()
    ids.forEach((id) => state.ids.add(id))
  }
  /** What the API takes. */
  const asked = computed<Selection>(() =>
    state.isAll
      ? {
          ids: [],
          filters: {
            text: '',
            custom_value: '',
            not_ready: false,
            by_card_alone: false,
            ...filtersIn(filters),
          },
          without: [...state.ids],
        }
      : { ids: [...state.ids], filters: null, without: [] },
  )
  return { has, count, toggle, clear, selectAll, selectThese, asked, state }
}
