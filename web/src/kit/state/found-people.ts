import { client, unwrap } from '@/api/client'

import { useFinding } from './finding'

export interface FoundPerson {
  id: number
  words: string
}

const worded = (one: { display_name: string; number: string }) => `${one.display_name}  ${one.number}`

/** What a box shows of somebody who is known by their id; null where they are not there, or hidden. */
export async function wordsOf(id: number): Promise<string | null> {
  const { data } = await client.GET('/api/cardholders/{id}/', { params: { path: { id } } })
  return data ? worded(data) : null
}

/** People found as one types, for a box in which one of them is chosen. */
export function useFoundPeople(take: (one: FoundPerson) => void) {
  return useFinding(async (text) => {
    const rows = await unwrap(client.GET('/api/cardholders/find/', { params: { query: { text } } }))
    return rows.map((one) => ({ id: one.id, words: worded(one) }))
  }, take)
}
