import { computed, onBeforeUnmount, ref, watch } from 'vue'

import type { Read } from '@/api/client'

import { useReads } from './reads'

const WAITS_SECONDS = 60

export type NextRead = ReturnType<typeof useNextRead>

/** Wait for the next read at the desk reader: for a minute, or until it is given up or comes. */
export function useNextRead(take: (read: Read) => void) {
  const reads = useReads()
  const endsAt = ref<number | null>(null)
  /** Seconds that are left; none when it is waited for until it comes. */
  const left = ref<number | null>(null)
  let after = 0
  let clock: ReturnType<typeof setInterval> | undefined

  function begin(isForLong = false) {
    after = reads.reads[0]?.id ?? 0
    endsAt.value = isForLong ? Infinity : Date.now() + WAITS_SECONDS * 1000
    left.value = isForLong ? null : WAITS_SECONDS
    clearInterval(clock)
    if (isForLong) return
    clock = setInterval(() => {
      left.value = Math.max(0, Math.ceil(((endsAt.value ?? 0) - Date.now()) / 1000))
      if (!left.value) end()
    }, 500)
  }
  function end() {
    clearInterval(clock)
    endsAt.value = null
  }
  watch(
    () => reads.reads[0]?.id,
    () => {
      if (endsAt.value === null) return
      const found = reads.reads.find((one) => one.id > after && one.reader_id === reads.deskReader?.id)
      if (!found) return
      end()
      take(found)
    },
  )
  onBeforeUnmount(end)
  return { begin, end, left, isWaiting: computed(() => endsAt.value !== null) }
}
