import { useToast } from 'primevue/usetoast'
import { computed, readonly, ref, shallowRef } from 'vue'

import type { Problem } from '@/api/client'
import { wordsFor } from '@/words'

import { problemsIn } from './problems'

/** Do something once: busy while it lasts, a word when it is done, what is wrong beside its field. */
export function useAct() {
  const toast = useToast()
  const isBusy = ref(false)
  const problems = shallowRef<Problem[]>([])

  async function act<T>(asked: () => Promise<T>, done = ''): Promise<T | undefined> {
    isBusy.value = true
    problems.value = []
    try {
      const answer = await asked()
      if (done) toast.add({ severity: 'success', summary: done, life: 3000 })
      return answer
    } catch (error) {
      problems.value = problemsIn(error)
      return undefined
    } finally {
      isBusy.value = false
    }
  }
  const at = (field: string) => problems.value.filter((one) => one.field === field)
  const elsewhere = computed(() =>
    problems.value
      .filter((one) => one.field === null)
      .map(wordsFor)
      .join(' '),
  )
  return { act, isBusy: readonly(isBusy), at, elsewhere }
}
