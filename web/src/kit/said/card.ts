import type { CardDraft } from '@/api/client'

interface Shown {
  raw?: string
  facility_code: number | null
  card_number: number | null
}
/** What makes a card one card. */
export type CardNumbers = Pick<CardDraft, 'format' | 'facility_code' | 'card_number'>

/** A card as it is written: facility code and card number, or the bits of what is no card. */
export function cardWords({ raw, facility_code, card_number }: Shown): string {
  return card_number === null ? (raw ?? '') : `${facility_code}-${String(card_number).padStart(5, '0')}`
}

export const isSameCard = (one: CardNumbers, other: CardNumbers) =>
  one.format === other.format &&
  one.facility_code === other.facility_code &&
  one.card_number === other.card_number

/** A card as it is issued, with nothing said of it but its numbers. */
export function newCard({ format, facility_code, card_number }: CardNumbers): CardDraft {
  return {
    format,
    facility_code,
    card_number,
    status: 'issued',
    activation_at: null,
    expiry_at: null,
    suspended_until: null,
    label: '',
    is_watched: false,
    is_temporary: false,
    issue_level: null,
    use_limit: null,
    hours: [],
  }
}
