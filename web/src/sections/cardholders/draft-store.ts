import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose } from 'vue'

import { client, type FileDraft, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'

import { withoutDigits } from './pins/pin'

const STORED_AFTER_MS = 400

interface Typed {
  base: FileDraft
  draft: FileDraft
}

async function read(id: number | null, key: string) {
  const { kept } =
    id === null
      ? await unwrap(client.GET('/api/drafts/new/{key}/', { params: { path: { key } } }))
      : await unwrap(client.GET('/api/drafts/{id}/', { params: { path: { id } } }))
  // what the page itself wrote, which the server keeps as it is
  return { kept: kept && (kept as unknown as Typed & { typed_at: string }) }
}
function write(id: number | null, key: string, { base, draft }: Typed, keepalive: boolean) {
  const name = `${draft.first_name} ${draft.last_name}`.trim()
  // what was typed for a PIN leaves the page with the save alone
  const body = { name, base: { ...base }, draft: { ...draft, pins: withoutDigits(draft.pins) } }
  return id === null
    ? client.PUT('/api/drafts/new/{key}/', { params: { path: { key } }, body, keepalive })
    : client.PUT('/api/drafts/{id}/', { params: { path: { id } }, body, keepalive })
}
export function removeDraft(id: number | null, key: string) {
  return id === null
    ? client.DELETE('/api/drafts/new/{key}/', { params: { path: { key } } })
    : client.DELETE('/api/drafts/{id}/', { params: { path: { id } } })
}

/**
 * What is typed and not saved is kept by the server, for this operator: it survives a closed browser, and
 * whoever sits down at this machine next finds nothing of it. Of somebody new, `key` tells which.
 */
export function useDraftStore(id: number | null, key: string) {
  const queries = useQueryClient()
  const { data: kept } = useQuery({
    queryKey: keyOf('drafts', 'one', id, key),
    queryFn: () => read(id, key),
    gcTime: 0,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  })

  let waiting: Typed | null = null
  let clock: ReturnType<typeof setTimeout> | undefined
  let isKept = false
  /** One after the other, so that an older draft never lands on a newer one. */
  let turn = Promise.resolve()

  function inTurn(act: () => Promise<unknown>) {
    turn = turn.then(act).then(
      () => undefined,
      () => undefined, // tried again with the next letter that is typed
    )
    return turn
  }
  const tellTheDesk = () => queries.invalidateQueries({ queryKey: keyOf('drafts'), exact: true })
  function send(keepalive = false) {
    const typed = waiting
    forget()
    if (!typed) return
    isKept = true
    void inTurn(() => write(id, key, typed, keepalive)).then(tellTheDesk)
  }
  /** Keep this in a moment; without anything typed there is nothing to keep. */
  function keep(typed: Typed | null) {
    forget()
    if (typed) {
      waiting = JSON.parse(JSON.stringify(typed)) as Typed
      clock = setTimeout(send, STORED_AFTER_MS)
    } else if (isKept) void drop()
  }
  function forget() {
    clearTimeout(clock)
    waiting = null
  }
  async function drop() {
    isKept = false
    await inTurn(() => removeDraft(id, key))
    await tellTheDesk()
  }
  useEventListener(window, 'pagehide', () => send(true))
  onScopeDispose(() => send())

  return { kept, keep, forget, drop }
}
