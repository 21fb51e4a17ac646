import { useSessionStorage } from '@vueuse/core'
import type { Ref } from 'vue'

import { useSession } from './session'

const parts = (of: object) => Object.keys(of).sort().join()

/**
 * Something that is being made and is not saved: kept in this tab, for this operator, through leaving the page and
 * reloading it; null once there is nothing. What an older Cadrin kept, whose parts have other names, is left.
 */
export function useKept<T extends object>(name: string, empty: () => T): Ref<T | null> {
  const session = useSession()
  return useSessionStorage<T | null>(() => `cadrin.kept.${name}.${session.session?.operator}`, null, {
    // at once: whoever keeps it may be gone in the same moment
    flush: 'sync',
    serializer: {
      write: (value) => JSON.stringify(value),
      read: (text) => {
        const found = JSON.parse(text) as T
        return parts(found) === parts(empty()) ? found : null
      },
    },
  })
}
