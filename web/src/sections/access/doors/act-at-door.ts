import { useQueryClient } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, ref, toValue } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { problemsIn } from '@/kit/state/problems'
import { t, wordsFor } from '@/words'

const ASKED_EVERY_MS = 300
const ASKED_AT_MOST = 50

/** Unlock a door once, or let in whoever asks there, and say what came of it. */
export function useActAtDoor(door: MaybeRefOrGetter<number>) {
  const queries = useQueryClient()
  const outcome = ref('')

  async function outcomeOf(id: number) {
    for (let asked = 0; asked < ASKED_AT_MOST; asked++) {
      const found = await unwrap(client.GET('/api/door-acts/{id}/', { params: { path: { id } } }))
      if (found.outcome !== 'waiting') return found.outcome
      await new Promise((resolve) => setTimeout(resolve, ASKED_EVERY_MS))
    }
    return 'late' as const
  }

  async function actAtDoor(act: 'release' | 'consent') {
    outcome.value = t('doing.outcomes.waiting')
    try {
      const path = { params: { path: { id: toValue(door) } } }
      const { id } = await unwrap(client.POST('/api/doors/{id}/acts/', { ...path, body: { act } }))
      const found = await outcomeOf(id)
      outcome.value = t(`doing.outcomes.${found}`)
      return found === 'done'
    } catch (error) {
      outcome.value = problemsIn(error).map(wordsFor).join(' ')
      return false
    } finally {
      await queries.invalidateQueries({ queryKey: keyOf('doors') })
    }
  }
  return { actAtDoor, outcome }
}
