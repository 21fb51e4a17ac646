import { useSessionStorage } from '@vueuse/core'
import { computed, type MaybeRefOrGetter, reactive, toValue, watch } from 'vue'

import type { components } from '@/api/schema'
import { useSession } from '@/kit/state/session'

import { type Filters, filtersIn } from '../filters'

export type Selection = Pick<components['schemas']['BulkChangeShapeRequest'], 'ids' | 'filters' | 'without'>

/**
 * Who is selected: some one by one, or all that match the filters without some. It is kept while the window
 * is open, so that one finds it again on the way back from somebody.
 */
export function useSelection(filters: Filters, total: MaybeRefOrGetter<number>) {
  const { session } = useSession()
  const kept = useSessionStorage(`cadrin.selected.${session?.operator}`, {
    isAll: false,
    ids: [] as number[],
  })
  const state = reactive({ isAll: kept.value.isAll, ids: new Set(kept.value.ids) })
  watch(state, ({ isAll, ids }) => (kept.value = { isAll, ids: [...ids] }))

  const has = (id: number) => state.ids.has(id) !== state.isAll
  const count = computed(() => (state.isAll ? Math.max(0, toValue(total) - state.ids.size) : state.ids.size))
  let last: number | null = null
  function toggle(id: number) {
    if (!state.ids.delete(id)) state.ids.add(id)
    last = id
  }
  /** Make everybody from the one who was ticked last to this one as this one becomes. */
  function reach(id: number, shown: number[]) {
    const [from, to] = [shown.indexOf(last ?? id), shown.indexOf(id)]
    const isIn = !has(id)
    for (const one of from < 0 ? [id] : shown.slice(Math.min(from, to), Math.max(from, to) + 1))
      if (has(one) !== isIn) toggle(one)
    last = id
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
  /** Everybody who matches, as the API takes it. */
  const everybody = computed<Selection>(() => ({
    ids: [],
    filters: {
      text: '',
      custom_value: '',
      not_ready: false,
      by_card_alone: false,
      ...filtersIn(filters),
    },
    without: [],
  }))
  const asked = computed<Selection>(() =>
    state.isAll
      ? { ...everybody.value, without: [...state.ids] }
      : { ids: [...state.ids], filters: null, without: [] },
  )
  return { has, count, toggle, reach, clear, selectAll, selectThese, everybody, asked, state }
}
