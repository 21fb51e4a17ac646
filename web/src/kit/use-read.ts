import type { InjectionKey, ShallowRef } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import type { CardDraft, Read } from '@/api/client'

/** Whoever is open and can use a read puts itself here. */
export const readUser: InjectionKey<ShallowRef<((read: Read) => void) | null>> = Symbol('readUser')

type Numbers = Pick<Read, 'format_id' | 'facility_code' | 'card_number'>

/** The card of a read as a draft; null when the read is no card. */
export function cardOf({ format_id, facility_code, card_number }: Numbers): CardDraft | null {
  if (format_id === null || facility_code === null || card_number === null) return null
  return {
    format: format_id,
    facility_code,
    card_number,
    status: 'issued',
    activation_at: null,
    expiry_at: null,
  }
}

/** Where a new cardholder is enrolled, with a card in hand if there is one; `start` makes it a fresh page. */
export function newCardholder(read?: Numbers): RouteLocationRaw {
  const card = read && cardOf(read)
  const start = String(Date.now())
  return {
    name: 'new-cardholder',
    query: card ? { start, card: `${card.format}-${card.facility_code}-${card.card_number}` } : { start },
  }
}
