import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDocumentVisibility, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'

import { client, type Read, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'

const KEPT = 30
const WAIT_SECONDS = 15
const PAUSE_AFTER_FAILURE_MS = 700
const PAUSE_MS = 5000

/** The latest reads, newest first. The visible page holds one request open and lets go of it when hidden. */
export const useReads = defineStore('reads', () => {
  const queries = useQueryClient()
  const visibility = useDocumentVisibility()
  const reads = ref<Read[]>([])
  const isSilent = ref(false)
  const isWanted = ref(false)
  const chosenDesk = useLocalStorage<number | null>('cadrin.deskReader', null)
  const { data: choices } = useQuery({ ...house, enabled: isWanted })

  const readers = computed(() => choices.value?.readers ?? [])
  const deskReader = computed(
    () =>
      readers.value.find((one) => one.id === chosenDesk.value) ?? readers.value.find((one) => one.is_desk),
  )
  /** What U uses: the newest read at the desk reader or of a card nobody has, or else the newest at all. */
  const newest = computed(
    () =>
      reads.value.find((one) => one.reader_id === deskReader.value?.id || one.reason === 'unknown_card') ??
      reads.value.find((one) => !one.happening),
  )

  async function follow(stop: AbortSignal) {
    while (!stop.aborted) {
      try {
        const after = reads.value[0]?.id
        const asked = Date.now()
        const news = await unwrap(
          client.GET('/api/news/', {
            // one that did not answer is asked for no more than whether it is there
            params: { query: { after, wait_seconds: isSilent.value ? 0 : WAIT_SECONDS } },
            signal: stop,
          }),
        )
        const wasSilent = isSilent.value
        isSilent.value = false
        if (wasSilent && !news.length) continue
        if (!news.length) {
          // nothing to wait after, or too many pages wait already: then it is answered at once
          if (Date.now() - asked < WAIT_SECONDS * 500)
            await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
          continue
        }
        const known = new Set(reads.value.map((one) => one.id))
        const unseen = news.filter((one) => !known.has(one.id)).reverse()
        reads.value = [...unseen, ...reads.value].slice(0, KEPT)
        void queries.invalidateQueries({ queryKey: keyOf('reads') })
        void queries.invalidateQueries({ queryKey: keyOf('desk') })
        void queries.invalidateQueries({ queryKey: keyOf('waiting') })
        void queries.invalidateQueries({ queryKey: keyOf('cardholders', 'history') })
      } catch {
        if (stop.aborted) return
        isSilent.value = true
        await new Promise((resolve) => setTimeout(resolve, PAUSE_AFTER_FAILURE_MS))
      }
    }
  }

  let stop: AbortController | null = null
  watch([visibility, isWanted], ([visible, wanted]) => {
    stop?.abort()
    stop = null
    if (visible === 'visible' && wanted) {
      stop = new AbortController()
      void follow(stop.signal)
    }
  })

  /** Ask again whose the shown cards are: somebody was just saved. */
  async function refresh() {
    reads.value = (await unwrap(client.GET('/api/news/'))).reverse()
  }
  const start = () => (isWanted.value = true)
  const end = () => (isWanted.value = false)

  return { reads, newest, readers, deskReader, chosenDesk, isSilent, start, end, refresh }
})
