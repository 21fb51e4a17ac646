import AutoComplete from 'primevue/autocomplete'
import Select from 'primevue/select'

/** What of an open list is used here: PrimeVue binds it when the list opens, and lets go when it closes. */
interface OpenList {
  $el: HTMLElement
  alignOverlay(): void
  frame?: number
}

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

/**
 * Let an open list follow its field when the page moves. By itself it closes: whoever was about to choose
 * loses it, only because something above came or went.
 */
export function listsFollowTheirFields() {
  for (const list of [AutoComplete, Select] as unknown as { methods: object }[])
    Object.assign(list.methods, following)
}
