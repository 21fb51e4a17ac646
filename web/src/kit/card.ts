interface Shown {
  raw: string
  facility_code: number | null
  card_number: number | null
}

/** A card as it is written: facility code and card number, or the bits of what is no card. */
export function cardWords({ raw, facility_code, card_number }: Shown): string {
  return card_number === null ? raw : `${facility_code}-${String(card_number).padStart(5, '0')}`
}
