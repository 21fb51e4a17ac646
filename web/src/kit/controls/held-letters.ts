/**
 * What is typed between a key that leads to a field and the moment when the field is there belongs to the
 * field: it is held, and written there as soon as one is focused. Tab leads on, as it would have.
 */

import type { RouteLocationNormalized, Router } from 'vue-router'

const HELD_FOR_MS = 5000
const FIELDS =
  'main input:not([type=hidden]):not([type=checkbox]):not([disabled]), main textarea, main [role=combobox]'

let held: string | null = null
let clock: ReturnType<typeof setTimeout> | undefined

const letGo = () => (held = null)

/**
 * Hold what is typed from now on, until a field is focused, Escape is pressed, the page was not to be had, or it has
 * long `come` without a field.
 */
export function holdLetters(come: Promise<unknown>): void {
  held ??= ''
  clearTimeout(clock)
  const hasCome = () => (clock = setTimeout(letGo, HELD_FOR_MS))
  come.then(hasCome, letGo)
}

/** Whether an address is that of something new, which is typed at once. */
const isOfNew = ({ name, params, query }: RouteLocationNormalized) =>
  name === 'new-cardholder' || [...Object.values(params), ...Object.values(query)].includes('new')

/** What is typed right after something new was begun is held too, until its editor is there. */
export function holdForWhatIsNew(router: Router): void {
  router.afterEach((to, from, failure) => {
    if (!failure && isOfNew(to) && !isOfNew(from)) holdLetters(Promise.resolve())
  })
}

const isField = (target: EventTarget | null): target is HTMLInputElement | HTMLTextAreaElement =>
  target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement

/** A list one chooses from takes letters too. */
const takesLetters = (target: EventTarget | null): target is HTMLElement =>
  isField(target) || (target instanceof HTMLElement && target.getAttribute('role') === 'combobox')

/** Take a key that was pressed while letters are held; whether it was taken. */
export function isHeld(event: KeyboardEvent): boolean {
  if (held === null || takesLetters(event.target) || event.ctrlKey || event.metaKey) return false
  if (event.key === 'Escape') held = null
  else if (event.key === 'Tab') held += '\t'
  else if (event.key === 'Backspace') held = held.slice(0, -1)
  else if (event.key.length === 1) held += event.key
  else return false
  event.preventDefault()
  return true
}

function write(field: Element | undefined, letters: string) {
  if (!letters || !isField(field ?? null)) return
  const box = field as HTMLInputElement
  box.value += letters
  box.dispatchEvent(new InputEvent('input', { bubbles: true }))
}

function focused({ target }: FocusEvent) {
  if (held === null || !takesLetters(target)) return
  const [first = '', ...others] = held.split('\t')
  held = null
  clearTimeout(clock)
  write(target, first)
  const fields = [...document.querySelectorAll<HTMLElement>(FIELDS)].filter((one) => one.offsetParent)
  const place = fields.indexOf(target)
  others.forEach((letters, after) => {
    const field = fields[place + 1 + after]
    field?.focus()
    write(field, letters)
  })
}

window.addEventListener('focusin', focused)
