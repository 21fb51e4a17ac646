import { nextTick, onMounted, type ShallowRef } from 'vue'

/** Have what was asked for typed at once: its first field has the focus when it comes. */
export function useFirstField(within: Readonly<ShallowRef<Element | null>>, isAskedFor = () => true): void {
  onMounted(async () => {
    if (!isAskedFor()) return
    await nextTick()
    within.value?.querySelector<HTMLElement>('input, textarea, [role=combobox]')?.focus()
  })
}
