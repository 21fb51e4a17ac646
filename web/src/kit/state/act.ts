import { useToast } from 'primevue/usetoast'
import { computed, readonly, ref, shallowRef } from 'vue'

import { type Problem, Refusal } from '@/api/client'
import { wordsFor } from '@/words'

import { problemsIn } from './problems'

interface Acting {
  /** What stands against it before it is done, where that is weighed while one types. */
  live?: () => Problem[]
  /** Told of a refusal, besides the problems that stand beside their fields. */
  refused?: (refusal: Refusal) => void
}

/** Do something once: busy while it lasts, a word when it is done, what is wrong beside its field. */
export function useAct({ live = () => [], refused }: Acting = {}) {
  const toast = useToast()
  const isBusy = ref(false)
  const found = shallowRef<Problem[]>([])

  async function act<T>(asked: () => Promise<T>, done = ''): Promise<T | undefined> {
    if (isBusy.value) return undefined // what is under way comes to its end first
    isBusy.value = true
    found.value = []
    try {
      const answer = await asked()
      if (done) toast.add({ severity: 'success', summary: done, life: 3000 })
      return answer
    } catch (error) {
      found.value = problemsIn(error)
      if (error instanceof Refusal) refused?.(error)
      return undefined
    } finally {
      isBusy.value = false
    }
  }
  const problems = computed(() => {
    const weighed = live()
    const known = new Set(weighed.map((one) => `${one.field} ${one.code}`))
    return [...weighed, ...found.value.filter((one) => !known.has(`${one.field} ${one.code}`))]
  })
  const at = (field: string) => problems.value.filter((one) => one.field === field)
  const elsewhere = computed(() =>
    problems.value
      .filter((one) => one.field === null)
      .map(wordsFor)
      .join(' '),
  )
  return { act, isBusy: readonly(isBusy), problems, at, elsewhere }
}
