import type { InjectionKey, ShallowRef } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import type { CardDraft, Read } from '@/api/client'

import { newCard } from '@/kit/said/card'

/** What is open and takes reads. */
export interface ReadUser {
  /** For whom it takes them, where it is for somebody. */
  name: (() => string) | null
  /** Take a read that was pointed at. */
  take: (read: Read) => void
  /** Use the newest read, if it is meant for what is open; or wait for one. */
  use: (newest: Read | undefined) => void
}
/** Whoever is open and can use a read puts itself here. */
export const readUser: InjectionKey<ShallowRef<ReadUser | null>> = Symbol('readUser')

type Numbers = Pick<Read, 'format_id' | 'facility_code' | 'card_number'>

/** The card of a read as a draft; null when the read is no card. */
export function cardOf({ format_id, facility_code, card_number }: Numbers): CardDraft | null {
  if (format_id === null || facility_code === null || card_number === null) return null
  return newCard({ format: format_id, facility_code, card_number })
}

/** A card in hand, as an address carries it. */
export const cardQuery = (card: CardDraft) => `${card.format}-${card.facility_code}-${card.card_number}`
export function cardInQuery(written: unknown): CardDraft | null {
  const numbers = (typeof written === 'string' ? written : '').split('-').map(Number)
  const [format = 0, facility_code = 0, card_number] = numbers
  return card_number === undefined || numbers.some(Number.isNaN)
    ? null
    : newCard({ format, facility_code, card_number })
}

/** A name for the draft of somebody new, which its address carries. */
export const freshStart = () => Date.now().toString(36)

/** Where a new cardholder is enrolled, with a card in hand and a group if there is one; `start` makes it a fresh page. */
export function newCardholder(read?: Numbers, groupId?: number | null): RouteLocationRaw {
  const card = read && cardOf(read)
  const start = freshStart()
  return {
    name: 'new-cardholder',
    query: { start, ...(card ? { card: cardQuery(card) } : {}), ...(groupId ? { group: groupId } : {}) },
  }
}
