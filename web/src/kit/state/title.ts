import { useTitle } from '@vueuse/core'
import { computed, onScopeDispose, ref, watchEffect } from 'vue'

import { t } from '@/words'

const subject = ref('')

/** Name what the page is about in the title of the window, while it is open. */
export function useSubject(words: () => string) {
  watchEffect(() => (subject.value = words()))
  onScopeDispose(() => (subject.value = ''))
}

/** The title of the window: what the page is about, its section, and whose it is. */
export function usePageTitle(section: () => string) {
  useTitle(computed(() => [subject.value, section(), t('name')].filter(Boolean).join(' · ')))
}
