import { useQueryClient } from '@tanstack/vue-query'
import { useToast } from 'primevue/usetoast'

import type { Problem, Refusal } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import { t, wordsForAction } from '@/words'

/** What shows parts of the house, and is asked anew once one of them was saved. */
const SHOWN = [
  keyOf('groups'),
  keyOf('schedules'),
  keyOf('formats'),
  keyOf('house'),
  keyOf('setup'),
  keyOf('cardholders', 'list'),
]

/** Save or remove something the house is made of; who was quicker is told. */
export function useSave(live?: () => Problem[]) {
  const queries = useQueryClient()
  const toast = useToast()

  function refused({ status, since }: Refusal) {
    if (status !== 409) return
    const latest = since.at(-1)
    const detail = latest
      ? `${t('stale.who', { name: latest.operator_name, when: whenWords(latest.at) })} ${wordsForAction(latest.action)}`
      : ''
    toast.add({ severity: 'warn', summary: t('stale.title'), detail })
  }
  const acting = useAct({ live, refused })
  const act = <T>(asked: () => Promise<T>) =>
    acting.act(async () => {
      const answer = await asked()
      await Promise.all(SHOWN.map((queryKey) => queries.invalidateQueries({ queryKey })))
      return answer
    }, t('common.saved'))
  return { ...acting, act }
}
