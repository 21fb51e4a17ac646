import { useQueryClient } from '@tanstack/vue-query'
import { useToast } from 'primevue/usetoast'
import { computed, readonly, ref, shallowRef, type Ref } from 'vue'

import { type Problem, Refusal } from '@/api/client'
import { whenWords } from '@/kit/clock'
import { t, wordsFor, wordsForAction } from '@/words'

/** Save or remove something the house is made of: busy while it lasts, problems beside their fields. */
export function useSave(live: Ref<Problem[]>) {
  const queries = useQueryClient()
  const toast = useToast()
  const isBusy = ref(false)
  const refused = shallowRef<Problem[]>([])

  async function act<T>(asked: () => Promise<T>): Promise<T | null> {
    if (isBusy.value) return null // what is under way comes to its end first
    isBusy.value = true
    refused.value = []
    try {
      const answer = await asked()
      await Promise.all(
        [['groups'], ['schedules'], ['formats'], ['house'], ['setup'], ['cardholders', 'list']].map(
          (queryKey) => queries.invalidateQueries({ queryKey }),
        ),
      )
      toast.add({ severity: 'success', summary: t('common.saved'), life: 2500 })
      return answer
    } catch (error) {
      refused.value =
        error instanceof Refusal ? error.problems : [{ code: 'request.failed', field: null, params: {} }]
      if (error instanceof Refusal && error.status === 409) {
        const [latest] = error.since.slice(-1)
        const detail = latest
          ? `${t('stale.who', { name: latest.operator_name, when: whenWords(latest.at) })} ${wordsForAction(latest.action)}`
          : ''
        toast.add({ severity: 'warn', summary: t('stale.title'), detail })
      }
      return null
    } finally {
      isBusy.value = false
    }
  }

  const problems = computed(() => {
    const known = new Set(live.value.map((one) => `${one.field} ${one.code}`))
    return [...live.value, ...refused.value.filter((one) => !known.has(`${one.field} ${one.code}`))]
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
