const AFTER_THE_LIST_HAS_CLOSED_MS = 60

/**
 * Leave a field once something was chosen in it, so that the next letter is a key of Cadrin's again.
 * Tab still goes on from here.
 */
export function letGo(): void {
  setTimeout(() => {
    const field = document.activeElement
    if (field instanceof HTMLElement && field.getAttribute('role') === 'combobox') field.blur()
  }, AFTER_THE_LIST_HAS_CLOSED_MS)
}
