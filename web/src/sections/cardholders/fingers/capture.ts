import { onBeforeUnmount, shallowRef } from 'vue'

import { useAsking } from '@/kit/state/asking'

const EVERY_MS = 500

/** Taking something in several steps: begun anew, asked for again and again while a reader tells of it. */
export function useCapture<T extends { token: string }>(
  isAtReader: () => boolean,
  on: { begin: () => Promise<T>; look: (token: string) => Promise<T>; taken?: (state: T) => boolean },
) {
  const { asking, isBusy, refused } = useAsking()
  const capture = shallowRef<T>()
  let clock: ReturnType<typeof setTimeout> | undefined
  let isGone = false

  function lookIn(milliseconds: number) {
    if (!isGone) clock = setTimeout(() => void look(), milliseconds)
  }
  function take(state: T | undefined) {
    if (!state || isGone) return false
    capture.value = state
    if (!on.taken?.(state) && isAtReader()) lookIn(EVERY_MS)
    return true
  }
  async function begin() {
    clearTimeout(clock)
    capture.value = undefined
    take(await asking(on.begin))
  }
  async function look() {
    const token = capture.value?.token
    if (token && !take(await asking(() => on.look(token)))) lookIn(EVERY_MS * 4)
  }
  /** Send something to what is being taken; whether it came there. */
  async function send(sent: (token: string) => Promise<T>) {
    const token = capture.value?.token
    return token && !isGone ? take(await asking(() => sent(token))) : false
  }
  onBeforeUnmount(() => {
    isGone = true
    clearTimeout(clock)
  })
  return { capture, begin, send, isBusy, refused }
}
