import { useMutation, useQueryClient } from '@tanstack/vue-query'

import { type BenchController, client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { t } from '@/words'

/** What is done to the stand-ins; each looks at the bench anew, and some have a word to say. */
export function useBenchActs(say: (words: string) => void, failed: (error: Error) => void) {
  const queries = useQueryClient()
  const act = <Asked, Answer>(
    mutationFn: (asked: Asked) => Promise<Answer>,
    wordsFor?: (answer: Answer, asked: Asked) => string,
  ) =>
    useMutation({
      mutationFn,
      onSuccess: (answer: Answer, asked: Asked) => {
        if (wordsFor) say(wordsFor(answer, asked))
        return queries.invalidateQueries({ queryKey: keyOf('bench') })
      },
      onError: failed,
    })
  const at = (id: number) => ({ params: { path: { id } } })

  return {
    change: act(({ id, ...body }: { id: number; is_on?: boolean; delay_seconds?: number }) =>
      unwrap(client.PATCH('/api/bench/controllers/{id}/', { ...at(id), body })),
    ),
    moveDoor: act(({ door, move }: { door: number; move: 'open' | 'shut' | 'button' }) =>
      unwrap(client.POST('/api/bench/doors/{id}/', { ...at(door), body: { move } })),
    ),
    switchMail: act((is_on: boolean) => unwrap(client.PATCH('/api/bench/mail/', { body: { is_on } }))),
    putStrangers: act(({ id }: BenchController) =>
      unwrap(client.POST('/api/bench/controllers/{id}/strangers/', at(id))),
    ),
    unbox: act(
      () => unwrap(client.POST('/api/bench/controllers/')),
      ({ number }) => t('bench.unboxed', { number }),
    ),
    empty: act(
      ({ id }: BenchController) => unwrap(client.DELETE('/api/bench/controllers/{id}/store/', at(id))),
      (_, { name }) => t('bench.emptied', { name }),
    ),
  }
}
