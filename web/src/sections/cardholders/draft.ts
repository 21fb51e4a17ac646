import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, readonly, ref, shallowRef, watch } from 'vue'

import {
  client,
  type FileDraft,
  type HistoryEntry,
  type Problem,
  Refusal,
  type SavedFile,
  unwrap,
} from '@/api/client'
import { keyOf } from '@/api/keys'
import { file } from '@/api/queries'
import { useReads } from '@/kit/state/reads'

import { useDraftStore } from './draft-store'
import { clashes, merge } from './merge'
import { newPin } from './pins/pin'
import { takeShared, withShared } from './sharing'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const WEIGHED_AFTER_MS = 120
/** What nobody needs to be told before they have typed anything. */
const MISSING = new Set(['cardholder.name_missing', 'cardholder.number_missing'])

/** The cardholder saved last in this window, so that the page that opens next can say how far it came. */
export const lastSaved = ref<number | null>(null)

/** Somebody else saved in between, and changed what I changed too. */
export interface Stale {
  since: HistoryEntry[]
  clashes: (keyof FileDraft)[]
  mine: FileDraft
  theirs: FileDraft
}

/** What the API calls a file: what is saved has an id and a display name beside it. */
function fileOf(saved: FileDraft | SavedFile): FileDraft {
  const own = new Set(['id', 'display_name', 'is_erased', 'shown_pins'])
  const file = Object.fromEntries(
    Object.entries(copy(saved)).filter(([name]) => !own.has(name)),
  ) as unknown as FileDraft
  return { ...file, pins: file.pins.map(newPin) }
}

/**
 * A cardholder's file as it is being edited: kept while not saved, weighed while typed, saved as a whole.
 * Of somebody new, `key` tells which draft it is.
 */
export function useFileDraft(id: number | null, key: string) {
  const store = useDraftStore(id, key)
  const queries = useQueryClient()
  const reads = useReads()
  const { data: saved, error: loadError, refetch } = useQuery(file(id, key))

  const base = shallowRef<FileDraft | null>(null)
  const draft = ref<FileDraft | null>(null)
  const keptAt = ref<string | null>(null)
  const saveProblems = shallowRef<Problem[]>([])
  const wasTried = ref(false)
  const isSaving = ref(false)
  const stale = shallowRef<Stale | null>(null)
  /** What somebody else had saved in between, and this save was merged with. */
  const mergedWith = shallowRef<HistoryEntry[]>([])
  const asOf = ref<string | null>(null)
  /** What was typed and then discarded, as long as nothing else is typed. */
  const discarded = shallowRef<{ base: FileDraft; draft: FileDraft } | null>(null)
  /** What somebody new shares with whoever was saved before them. */
  const shared = shallowRef(id === null ? takeShared(key) : null)

  const isDirty = computed(() => JSON.stringify(draft.value) !== JSON.stringify(base.value))

  function begin(from: FileDraft | SavedFile) {
    base.value = fileOf(from)
    draft.value = fileOf(from)
    saveProblems.value = []
    wasTried.value = false
    keptAt.value = null
  }

  watch(
    [saved, store.kept],
    ([now, found]) => {
      if (!now || !found || draft.value) return
      begin(now)
      if (shared.value) {
        base.value = withShared(fileOf(now), shared.value)
        draft.value = copy(base.value)
      }
      if (!found.kept) return
      base.value = fileOf({ ...now, ...found.kept.base })
      draft.value = fileOf({ ...now, ...found.kept.draft })
      // a number that was only offered may have been given to somebody since
      if (id === null && found.kept.draft.number === found.kept.base.number) draft.value.number = now.number
      keptAt.value = found.kept.typed_at
    },
    { immediate: true },
  )
  watch(
    draft,
    () => {
      saveProblems.value = []
      if (isDirty.value) discarded.value = null
      store.keep(isDirty.value && draft.value && base.value ? { base: base.value, draft: draft.value } : null)
    },
    { deep: true },
  )

  // -- what it would lead to -------------------------------------------------------------------

  const asked = computed(() => JSON.stringify({ ...draft.value, id, as_of: asOf.value }))
  const weighed = refDebounced(asked, WEIGHED_AFTER_MS)
  const {
    data: consequences,
    error: weighError,
    refetch: weighAgain,
  } = useQuery({
    queryKey: keyOf('weigh', weighed),
    queryFn: ({ signal }) =>
      unwrap(
        client.POST('/api/preview/', {
          body: JSON.parse(weighed.value) as FileDraft & { id: number | null },
          signal,
        }),
      ),
    enabled: computed(() => draft.value !== null && weighed.value.includes('"number"')),
    placeholderData: keepPreviousData,
    gcTime: 0,
    refetchInterval: 30_000,
  })

  const problems = computed(() => {
    const live =
      weighError.value instanceof Refusal ? weighError.value.problems : (consequences.value?.problems ?? [])
    const shown = wasTried.value ? live : live.filter((one) => !MISSING.has(one.code))
    const known = new Set(shown.map((one) => `${one.field} ${one.code}`))
    return [...shown, ...saveProblems.value.filter((one) => !known.has(`${one.field} ${one.code}`))]
  })
  const problemsAt = (field: string) => problems.value.filter((one) => one.field === field)

  // -- saving ----------------------------------------------------------------------------------

  let running: Promise<unknown> = Promise.resolve()
  /**
   * Save the whole file and give what was saved; null when it was refused, and then the problems are shown. Asked for
   * while another save is under way, it saves what was typed since.
   */
  async function save(): Promise<SavedFile | null> {
    if (isSaving.value) {
      await running
      if (!isDirty.value) return null
    }
    const mine = saveOnce()
    running = mine
    return mine
  }
  async function saveOnce(): Promise<SavedFile | null> {
    if (!draft.value || isSaving.value) return null
    isSaving.value = true
    wasTried.value = true
    // how far the last save came says nothing of this one
    lastSaved.value = null
    try {
      const body = copy(draft.value)
      const now =
        id === null
          ? await unwrap(client.POST('/api/cardholders/new/', { params: { query: { draft: key } }, body }))
          : await unwrap(client.PUT('/api/cardholders/{id}/', { params: { path: { id } }, body }))
      const mine = draft.value
      // whoever asks what is saved, as to erase it, is told of this; a new PIN is not kept there
      const withoutPins: SavedFile = { ...now, shown_pins: [] }
      if (id !== null) queries.setQueryData(file(id, key).queryKey, withoutPins)
      store.forget()
      begin(now)
      // what was typed while it was being saved stands on top of what was saved
      if (id !== null && JSON.stringify(mine) !== JSON.stringify(body))
        draft.value = merge(body, mine, fileOf(now))
      await Promise.all([
        queries.invalidateQueries({ queryKey: keyOf('cardholders', 'records') }),
        queries.invalidateQueries({ queryKey: keyOf('cardholders', 'history') }),
        queries.invalidateQueries({ queryKey: keyOf('cardholders', 'list') }),
        queries.invalidateQueries({ queryKey: keyOf('cardholders', 'letters') }),
        queries.invalidateQueries({ queryKey: keyOf('desk') }),
        queries.invalidateQueries({ queryKey: keyOf('groups') }),
        reads.refresh(),
      ])
      lastSaved.value = now.id
      return now
    } catch (error) {
      if (!(error instanceof Refusal))
        saveProblems.value = [{ code: 'request.failed', field: null, params: {} }]
      else if (error.status === 409) return await mergeOrAsk(error)
      else saveProblems.value = error.problems
      return null
    } finally {
      isSaving.value = false
    }
  }

  /** Somebody else saved: what does not clash is merged and saved; what does is asked about. */
  async function mergeOrAsk(refusal: Refusal): Promise<SavedFile | null> {
    const { data } = await refetch()
    if (!data || !base.value || !draft.value) return null
    const theirs = fileOf(data)
    const both = clashes(base.value, draft.value, theirs)
    if (both.length) {
      stale.value = { since: refusal.since, clashes: both, mine: draft.value, theirs }
      return null
    }
    const merged = merge(base.value, draft.value, theirs)
    begin(data)
    draft.value = merged
    mergedWith.value = refusal.since
    isSaving.value = false
    return saveOnce()
  }

  function discard() {
    const typed = isDirty.value && base.value && draft.value ? { base: base.value, draft: draft.value } : null
    store.forget()
    void store.drop()
    shared.value = null
    if (saved.value) begin(saved.value)
    void refetch().then(({ data }) => {
      if (data && !isDirty.value) begin(data)
    })
    discarded.value = typed
  }
  function bringBack() {
    if (!discarded.value) return
    base.value = discarded.value.base
    draft.value = discarded.value.draft
  }

  /** After somebody else saved: `keep` puts mine on top of theirs, to be looked at and saved again. */
  async function settle(mend: (base: FileDraft, mine: FileDraft, theirs: FileDraft) => FileDraft) {
    const { data: theirs } = await refetch()
    if (theirs && base.value && draft.value) {
      const mended = mend(base.value, draft.value, fileOf(theirs))
      begin(theirs)
      draft.value = mended
    }
    stale.value = null
  }

  return {
    draft,
    base,
    saved,
    loadError,
    keptAt: readonly(keptAt),
    isDirty,
    isSaving: readonly(isSaving),
    stale,
    mergedWith,
    asOf,
    consequences,
    weighAgain,
    problems,
    problemsAt,
    save,
    discard,
    discarded,
    bringBack,
    shared,
    settle,
  }
}
