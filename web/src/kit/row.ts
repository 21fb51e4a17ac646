import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import { type CardDraft, client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { isSameCard } from '@/kit/card'
import { problemsIn } from '@/kit/problems'
import { t, wordsFor } from '@/words'

export type RowPerson = components['schemas']['RowPerson']
type Choice = components['schemas']['RowChoiceRequest']

/** A row of people and the cards that are meant for them; nothing counts until all are issued. */
export const useRow = defineStore('row', () => {
  /** Those who were chosen in the list, for a row that is not lined up yet. */
  const chosen = ref<number[]>([])
  const people = ref<RowPerson[]>([])
  const cards = ref<Record<number, CardDraft>>({})
  const place = ref(0)

  const turn = computed(() => people.value[place.value] ?? null)
  const pairs = computed(() =>
    people.value.flatMap((one) => {
      const card = cards.value[one.id]
      return card ? [{ cardholder: one.id, card }] : []
    }),
  )

  async function lineUp(choice: Choice) {
    people.value = await unwrap(client.POST('/api/row/people/', { body: choice }))
    cards.value = {}
    place.value = 0
  }

  /** Go on to the next person without a card; past the last one, everybody had their turn. */
  function goOn() {
    do place.value += 1
    while (turn.value && cards.value[turn.value.id])
  }

  /** Mean a card for whoever's turn it is; gives why not, or nothing. */
  async function take(card: CardDraft): Promise<string> {
    const person = turn.value
    if (!person) return t('row.done')
    if (pairs.value.some((one) => isSameCard(one.card, card)))
      return wordsFor({ code: 'card.twice', field: null, params: {} })
    const problems = await weigh([{ cardholder: person.id, card }])
    if (problems) return problems
    cards.value[person.id] = card
    goOn()
    return ''
  }

  async function weigh(asked: typeof pairs.value): Promise<string> {
    try {
      const { problems } = await unwrap(client.POST('/api/preview/handout/', { body: { pairs: asked } }))
      return problems.map(wordsFor).join(' ')
    } catch (error) {
      return problemsIn(error).map(wordsFor).join(' ')
    }
  }

  /** Mean cards that follow one another for everybody who has none yet, from the present one on; gives why not. */
  async function fill(first: CardDraft): Promise<string> {
    const waiting = people.value.slice(place.value).filter((one) => !cards.value[one.id])
    try {
      const run = await unwrap(
        client.POST('/api/preview/run/', {
          body: { first, people: waiting.map((one) => one.id), pairs: pairs.value },
        }),
      )
      if (run.problems.length) return run.problems.map(wordsFor).join(' ')
      for (const { cardholder, card } of run.pairs) cards.value[cardholder] = card
    } catch (error) {
      return problemsIn(error).map(wordsFor).join(' ')
    }
    place.value = people.value.length
    return ''
  }

  function takeAway(id: number) {
    delete cards.value[id]
    place.value = people.value.findIndex((one) => one.id === id)
  }
  function drop() {
    people.value = []
    cards.value = {}
    chosen.value = []
    place.value = 0
  }
  const issue = () => unwrap(client.POST('/api/row/issue/', { body: { pairs: pairs.value } }))

  return { chosen, people, cards, place, turn, pairs, lineUp, goOn, take, fill, takeAway, drop, issue }
})
