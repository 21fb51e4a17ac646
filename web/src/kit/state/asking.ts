import { problemsIn } from './problems'
import { readonly, ref, shallowRef } from 'vue'

import { type Problem } from '@/api/client'

/** Ask for something that is part of what is being typed: nothing is saved by it. */
export function useAsking() {
  const isBusy = ref(false)
  const refused = shallowRef<Problem[]>([])

  async function asking<T>(asked: () => Promise<T>): Promise<T | undefined> {
    isBusy.value = true
    try {
      const answer = await asked()
      refused.value = []
      return answer
    } catch (error) {
      refused.value = problemsIn(error)
      return undefined
    } finally {
      isBusy.value = false
    }
  }
  return { asking, isBusy: readonly(isBusy), refused }
}
