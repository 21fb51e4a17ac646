import type { components } from '@/api/schema'

export type PinDraft = components['schemas']['PinShape']

/** A PIN that is not set yet, or one that is there and stays as it is. */
export const newPin = (more: Partial<PinDraft> = {}): PinDraft => ({
  id: null,
  label: '',
  opens_alone: false,
  entry: '',
  again: '',
  typed: null,
  is_generated: false,
  is_mailed: false,
  expiry_at: null,
  ...more,
})

/** How the digits of a PIN come about; `kept` when it is there already. */
export type Origin = 'kept' | 'generated' | 'typed' | 'keypad'
export function originOf(pin: PinDraft): Origin {
  if (pin.is_generated) return 'generated'
  if (pin.typed !== null) return 'keypad'
  return pin.id === null || pin.entry || pin.again ? 'typed' : 'kept'
}

/** What may be kept while a file is not saved: never a digit. */
export const withoutDigits = (pins: PinDraft[]): PinDraft[] =>
  pins
    .map((pin) => ({ ...pin, entry: '', again: '', typed: null }))
    .filter((pin) => pin.id !== null || pin.is_generated)
