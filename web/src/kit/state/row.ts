import { defineStore } from 'pinia'
import { computed } from 'vue'

import { type CardDraft, client, type Problem, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { isSameCard } from '@/kit/said/card'
import { useKept } from '@/kit/state/kept'
import { problemsIn } from '@/kit/state/problems'
import { t, wordsFor } from '@/words'

export type RowPerson = components['schemas']['RowPerson']
type Choice = components['schemas']['RowChoiceRequest']
export type Became = Choice['became']

interface Row {
  /** Those who were chosen in the list, for a row that is not lined up yet. */
  chosen: number[]
  people: RowPerson[]
  cards: Record<number, CardDraft>
  place: number
  /** What becomes of the cards that these people have; of people without one, nothing. */
  became: Became
}
interface Told {
  /** Why nothing was taken; nothing where it was. */
  why: string
  /** What does not stand against it and should be known. */
  note: string
}
interface Weighed {
  problems: Problem[]
  notes: Problem[]
}
const inWords = (problems: Problem[]) => [...new Set(problems.map(wordsFor))].join(' ')
async function told(weigh: () => Promise<Weighed>): Promise<Told> {
  try {
    const { problems, notes } = await weigh()
    return { why: inWords(problems), note: inWords(notes) }
  } catch (error) {
    return { why: inWords(problemsIn(error)), note: '' }
  }
}
const empty = (): Row => ({ chosen: [], people: [], cards: {}, place: 0, became: null })

/** A row of people and the cards that are meant for them; nothing counts until all are issued. */
export const useRow = defineStore('row', () => {
  const row = useKept('row', empty)
  const part = <K extends keyof Row>(name: K) =>
    computed({
      get: () => (row.value ?? empty())[name],
      set: (value: Row[K]) => (row.value = { ...(row.value ?? empty()), [name]: value }),
    })
  const [chosen, people, cards] = [part('chosen'), part('people'), part('cards')]
  const [place, became] = [part('place'), part('became')]

  const turn = computed(() => people.value[place.value] ?? null)
  const pairs = computed(() =>
    people.value.flatMap((one) => {
      const card = cards.value[one.id]
      return card ? [{ cardholder: one.id, card }] : []
    }),
  )

  async function lineUp(choice: Choice) {
    const found = await unwrap(client.POST('/api/row/people/', { body: choice }))
    row.value = { ...empty(), chosen: chosen.value, people: found, became: choice.became ?? null }
  }
  const nameOf = (id: unknown) => people.value.find((one) => one.id === id)?.display_name ?? ''

  /** Go on to the next person without a card; past the last one, everybody had their turn. */
  function goOn() {
    do place.value += 1
    while (turn.value && cards.value[turn.value.id])
  }

  /** Mean a card for whoever's turn it is; gives what stands against it, or what should be known. */
  async function take(card: CardDraft): Promise<Told> {
    const person = turn.value
    if (!person) return { why: t('row.done'), note: '' }
    const same = pairs.value.find((one) => isSameCard(one.card, card))
    if (same) return { why: t('row.twice', { name: nameOf(same.cardholder) }), note: '' }
    return told(async () => {
      const found = await unwrap(
        client.POST('/api/preview/handout/', {
          body: { pairs: [{ cardholder: person.id, card }], became: became.value },
        }),
      )
      if (!found.problems.length) {
        cards.value = { ...cards.value, [person.id]: card }
        goOn()
      }
      return found
    })
  }

  /** Mean cards that follow one another for everybody who has none yet, from the present one on. */
  const fill = (first: CardDraft): Promise<Told> =>
    told(async () => {
      const waiting = people.value.slice(place.value).filter((one) => !cards.value[one.id])
      const run = await unwrap(
        client.POST('/api/preview/run/', {
          body: {
            first,
            people: waiting.map((one) => one.id),
            pairs: pairs.value,
            became: became.value,
          },
        }),
      )
      if (!run.problems.length) {
        const meant = run.pairs.map(({ cardholder, card }) => [cardholder, card] as const)
        cards.value = { ...cards.value, ...Object.fromEntries(meant) }
        place.value = people.value.length
      }
      return run
    })

  function takeAway(id: number) {
    cards.value = Object.fromEntries(Object.entries(cards.value).filter(([one]) => Number(one) !== id))
    place.value = people.value.findIndex((one) => one.id === id)
  }
  function drop() {
    row.value = null
  }
  const issue = () =>
    unwrap(client.POST('/api/row/issue/', { body: { pairs: pairs.value, became: became.value } }))

  return {
    chosen,
    people,
    cards,
    place,
    became,
    turn,
    pairs,
    lineUp,
    goOn,
    take,
    fill,
    takeAway,
    drop,
    issue,
  }
})
