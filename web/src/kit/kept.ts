import { useSessionStorage } from '@vueuse/core'
import type { Ref } from 'vue'

import { useSession } from './session'

/**
 * Something that is being made and is not saved: kept in this tab, for this operator, through leaving the page and
 * reloading it. What an older Cadrin kept, whose parts have other names, is left.
 */
export function useKept<T extends object>(name: string, begin: () => T): Ref<T> {
  const session = useSession()
  const parts = (of: object) => Object.keys(of).sort().join()
  return useSessionStorage(() => `cadrin.${name}.${session.session?.name}`, begin(), {
    serializer: {
      write: (value) => JSON.stringify(value),
      read: (text) => {
        const found = JSON.parse(text) as T
        return parts(found) === parts(begin()) ? found : begin()
      },
    },
  })
}
