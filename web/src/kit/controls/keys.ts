import { useLocalStorage } from '@vueuse/core'
import { onBeforeUnmount, onMounted } from 'vue'

import { isHeld } from './held-letters'
import { useSession } from '@/kit/state/session'

type Act = () => void
const registered: Record<string, Act>[] = []
let pendingGo = false
/** Whether single letters act; whoever speaks to their machine, or slips easily, switches them off. */
export const lettersAct = useLocalStorage('cadrin.letters', true)

export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    // a list one chooses from takes letters too
    target.getAttribute('role') === 'combobox' ||
    ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)) &&
  !(target instanceof HTMLInputElement && ['checkbox', 'radio', 'range'].includes(target.type))

/** Alt alone: with Ctrl it is AltGr on many keyboards, which writes signs. */
const isAlt = (event: KeyboardEvent) => event.altKey && !event.ctrlKey && !event.getModifierState('AltGraph')
/** The name of what was pressed: `Ctrl+S`, `Alt+1`, `/`, `N`, or `G C` for one after the other. */
function nameOf(event: KeyboardEvent): string {
  if (isAlt(event)) return `Alt+${/^Digit(\d)$/.exec(event.code)?.[1] ?? ''}`
  const key = event.key.length === 1 ? event.key.toUpperCase() : event.key
  if (event.ctrlKey || event.metaKey) return `Ctrl+${key}`
  return pendingGo ? `G ${key}` : key
}

function pressed(event: KeyboardEvent) {
  if (event.defaultPrevented || isHeld(event) || (event.altKey && !isAlt(event))) return
  // under the sign-in nothing is done
  if (useSession().hasEnded) return
  const name = nameOf(event)
  const isModified = /^(Ctrl|Alt)\+/.test(name)
  if (!isModified && (isTyping(event.target) || !lettersAct.value)) return
  pendingGo = name === 'G'
  // what was registered last is nearest to the operator
  for (const acts of [...registered].reverse()) {
    const act = acts[name]
    if (act) {
      event.preventDefault()
      act()
      return
    }
  }
}

window.addEventListener('keydown', pressed)

/** Act on keys while the component is on the screen. Letters act only outside of fields. */
export function useKeys(acts: Record<string, Act>): void {
  onMounted(() => registered.push(acts))
  onBeforeUnmount(() => registered.splice(registered.indexOf(acts), 1))
}
