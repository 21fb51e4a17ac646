import { shallowRef } from 'vue'

/**
 * What is found as one types, for a box in which one of it is chosen; `box` is what the box is bound to.
 *
 * An answer counts for what stands there and for nothing shorter. Whoever presses Enter before it comes gets the first
 * that is found then, and nobody who was found before.
 */
export function useFinding<T>(search: (text: string) => Promise<T[]>, take: (one: T) => void) {
  const found = shallowRef<T[]>([])
  let latest = 0
  /** The answer to what stands there has not come; whether Enter was pressed meanwhile. */
  let isAwaited = false
  let isEntered = false

  async function find(text: string) {
    const mine = latest
    const rows = await search(text).catch(() => [])
    if (mine !== latest) return
    found.value = rows
    isAwaited = false
    const [first] = rows
    if (isEntered && first !== undefined) take(first)
    isEntered = false
  }
  function typing() {
    latest += 1
    isAwaited = true
    isEntered = false
  }
  function enter(event: KeyboardEvent) {
    if (event.key !== 'Enter' || !isAwaited) return
    event.stopPropagation()
    event.preventDefault()
    isEntered = true
  }
  /** Nothing is awaited: the box was emptied, or one was chosen. */
  function rest() {
    latest += 1
    isAwaited = isEntered = false
  }
  const box = {
    onComplete: ({ query }: { query: string }) => find(query),
    onClear: rest,
    onInputCapture: typing,
    onKeydownCapture: enter,
  }
  return { found, box, rest }
}
