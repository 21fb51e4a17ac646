import AutoComplete from 'primevue/autocomplete'
import Select from 'primevue/select'

import { letGo } from './let-go'

/** What of an open list is used here: PrimeVue binds it when the list opens, and lets go when it closes. */
interface OpenList {
  $el: HTMLElement
  alignOverlay(): void
  frame?: number
}
interface Filtered extends OpenList {
  filterValue: string | null
  visibleOptions: unknown[]
  focusedOptionIndex: number
  getOptionLabel(option: unknown): string
  isValidOption(option: unknown): boolean
}
type Methods = Record<string, (this: OpenList, ...given: unknown[]) => unknown>

const following = {
  bindScrollListener(this: OpenList) {
    let seen = ''
    const look = () => {
      const { left, top } = this.$el.getBoundingClientRect()
      if (seen && seen !== `${left} ${top}`) this.alignOverlay()
      seen = `${left} ${top}`
      this.frame = requestAnimationFrame(look)
    }
    look()
  },
  unbindScrollListener(this: OpenList) {
    cancelAnimationFrame(this.frame ?? 0)
  },
}

/** Point at what Enter is to take: what begins with what is typed, or else the first that is left. */
function pointAtFirst(this: OpenList) {
  const list = this as Filtered
  const typed = (list.filterValue ?? '').trim().toLocaleLowerCase()
  if (!typed) return
  // the heading of a group can be seen, and not be chosen
  const choices = list.visibleOptions.filter((option) => list.isValidOption(option))
  const begins = (option: unknown) => list.getOptionLabel(option).toLocaleLowerCase().startsWith(typed)
  list.focusedOptionIndex = list.visibleOptions.indexOf(choices.find(begins) ?? choices[0])
}
/** A list that is left is left: the next letter is a key of Cadrin's, and does not open it again. */
function leave(this: OpenList) {
  if (!this.$el.closest('[role=dialog]')) letGo()
}

/** Whoever types faster than the list opens has pointed at nothing yet. */
function pointAtSomething(this: OpenList) {
  if ((this as Filtered).focusedOptionIndex === -1) pointAtFirst.call(this)
}

type Act = (this: OpenList) => void
const nothing: Act = () => undefined
function around(list: object, name: string, { before = nothing, after = nothing }) {
  const { methods } = list as { methods: Methods }
  const own = methods[name]
  methods[name] = function (...given) {
    before.call(this)
    const answer = own?.apply(this, given)
    after.call(this)
    return answer
  }
}

/** Let lists work alike: type, Enter, done; Escape leaves. */
export function asLists(...lists: object[]) {
  for (const list of lists) {
    around(list, 'onFilterChange', { after: pointAtFirst })
    around(list, 'onEnterKey', { before: pointAtSomething })
    around(list, 'onEscapeKey', { after: leave })
  }
}

/**
 * An open list follows its field when the page moves: by itself it closes, and whoever was about to choose
 * loses it, only because something above came or went.
 */
export function listsFollowTheirFields() {
  for (const list of [AutoComplete, Select])
    Object.assign((list as unknown as { methods: object }).methods, following)
  asLists(Select)
  around(Select, 'onOptionSelect', { after: leave })
  around(AutoComplete, 'onEscapeKey', { after: leave })
}
