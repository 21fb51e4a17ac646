import type { FileDraft } from '@/api/client'
import type { components } from '@/api/schema'
import { cardWords } from '@/kit/said/card'
import { endOf } from '@/kit/time/clock'
import type { Factor } from '@/kit/said/factors'
import { t } from '@/words'

import type { Finger } from './fingers/fingers'
import { originOf } from './pins/pin'

type Delivery = components['schemas']['DeliveryOfCardholder']
type Record = Delivery['records'][number]

export type CredentialState = 'in_force' | 'pending' | 'expired' | 'suspended' | 'dead' | 'unsaved'

/** One credential, as a line says it; `part` is where on the page it is changed. */
export interface Credential {
  key: string
  part: 'cards' | 'pins' | 'plates' | 'fingers' | 'faces'
  factor: Factor
  finger?: Finger
  what: string
  label: string
  state: CredentialState
  stateWords: string
  from: string | null
  until: string | null
  /** Whether a controller has room for it; only cards are left out. */
  isKeptBy: (record: Record) => boolean
}

interface Span {
  activation_at: string | null
  expiry_at: string | null
}
function inTime({ activation_at, expiry_at }: Span, now: Date): CredentialState {
  if (expiry_at && endOf(expiry_at) <= now) return 'expired'
  return activation_at && new Date(activation_at) > now ? 'pending' : 'in_force'
}
const ORDER: CredentialState[] = ['in_force', 'unsaved', 'pending', 'suspended', 'expired', 'dead']

/** Everything that opens doors for somebody, what works first. */
export function credentialsOf(draft: FileDraft, now: Date): Credential[] {
  const made = [...cards(draft, now), ...pins(draft, now), ...plates(draft), ...templates(draft, now)]
  return made.sort((one, other) => ORDER.indexOf(one.state) - ORDER.indexOf(other.state))
}

function line(
  one: Omit<Credential, 'stateWords' | 'isKeptBy' | 'from' | 'until'> & Partial<Credential>,
  { activation_at, expiry_at }: Span,
): Credential {
  return {
    stateWords: t(`credentials.states.${one.state}`),
    isKeptBy: () => true,
    from: activation_at,
    until: expiry_at,
    ...one,
  }
}

function cards({ cards }: FileDraft, now: Date): Credential[] {
  return cards.map((card) => {
    const words = cardWords({ raw: '', ...card, card_number: Math.max(card.card_number, 0) })
    const isBack = card.suspended_until !== null && new Date(card.suspended_until) <= now
    const counts = card.status === 'issued' || (card.status === 'suspended' && isBack)
    const state = counts ? inTime(card, now) : card.status === 'suspended' ? 'suspended' : 'dead'
    const isKeptBy = (record: Record) =>
      !record.left_out.some((one) => cardWords({ raw: '', ...one }) === words)
    return line(
      {
        key: `card ${card.format} ${words}`,
        part: 'cards',
        factor: 'card',
        what: t('credentials.card', { card: words }),
        label: card.label,
        state,
        ...(state === 'dead' ? { stateWords: t(`statuses.${card.status}`).toLowerCase() } : {}),
        isKeptBy,
      },
      card,
    )
  })
}

function pins({ pins }: FileDraft, now: Date): Credential[] {
  return pins.map((pin, place) => {
    const span = { activation_at: null, expiry_at: pin.expiry_at ?? null }
    const state = originOf(pin) === 'kept' ? inTime(span, now) : 'unsaved'
    const what = t(pin.opens_alone ? 'credentials.pinAlone' : 'credentials.pin')
    return line({ key: `pin ${place}`, part: 'pins', factor: 'pin', what, label: pin.label, state }, span)
  })
}

function plates({ plates }: FileDraft): Credential[] {
  return plates.filter(Boolean).map((plate) => {
    const what = t('credentials.plate', { plate })
    return line(
      { key: `plate ${plate}`, part: 'plates', factor: 'plate', what, label: '', state: 'in_force' },
      { activation_at: null, expiry_at: null },
    )
  })
}

function templates({ biometrics }: FileDraft, now: Date): Credential[] {
  const state = (one: Span & { capture?: string; is_suspended?: boolean }) =>
    one.capture ? 'unsaved' : one.is_suspended ? 'suspended' : inTime(one, now)
  const spanOf = (one: Partial<Span>) => ({
    activation_at: one.activation_at ?? null,
    expiry_at: one.expiry_at ?? null,
  })
  return [
    ...(biometrics?.fingers ?? []).map((one) =>
      line(
        {
          key: `finger ${one.finger}`,
          part: 'fingers',
          factor: 'finger',
          finger: one.finger,
          what: t(`fingers.names.${one.finger}`),
          label: [one.label ?? '', one.is_duress ? t('fingers.isDuress') : ''].filter(Boolean).join(', '),
          state: state({ ...one, ...spanOf(one) }),
        },
        spanOf(one),
      ),
    ),
    ...(biometrics?.faces ?? []).map((one, place) =>
      line(
        {
          key: `face ${one.id ?? one.capture}`,
          part: 'faces',
          factor: 'face',
          what: t('faces.place', { place: place + 1 }),
          label: one.label ?? '',
          state: state({ ...one, ...spanOf(one) }),
        },
        spanOf(one),
      ),
    ),
  ]
}

/** Where a credential is held: the controllers that have it, and those that should. */
export function heldAt(one: Credential, delivery: Delivery | undefined) {
  const wanted = (delivery?.records ?? []).filter((record) => record.keeps.includes(one.factor))
  const isTemplate = one.factor === 'finger' || one.factor === 'face'
  const isKept = one.state !== 'unsaved' && !(isTemplate && one.state === 'suspended')
  const held = wanted.filter(
    (record) =>
      isKept &&
      !(isTemplate && record.is_without_templates) &&
      record.state === 'held' &&
      one.isKeptBy(record),
  )
  return { held: held.map((record) => record.name), wanted: wanted.map((record) => record.name) }
}
