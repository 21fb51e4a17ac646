import { queryOptions } from '@tanstack/vue-query'
import { type MaybeRefOrGetter, toValue } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

type Schemas = components['schemas']
export type Finger = Schemas['Finger']
export type FingerDraft = Schemas['FingerShape']
export type Biometrics = Schemas['BiometricsShape']
export type Capture = Schemas['CaptureState']
export type FaceDraft = Schemas['FaceShape']
export type FaceCapture = Schemas['FaceCaptureState']
export type Taken = Schemas['BiometricFactor']
export type Consent = Schemas['ConsentShape']
export type NewConsent = Schemas['NewConsentShape']
export type Template = Schemas['TemplateShape']

/** Fingers by their codes in ANSI/NIST-ITL 1, from 1 on. */
export const FINGERS: readonly Finger[] = [
  'right_thumb',
  'right_index',
  'right_middle',
  'right_ring',
  'right_little',
  'left_thumb',
  'left_index',
  'left_middle',
  'left_ring',
  'left_little',
]
export const codeOf = (finger: Finger) => FINGERS.indexOf(finger) + 1

/** A template that counts from now on, without an end. */
export const NO_TERMS = { label: '', activation_at: null, expiry_at: null, is_suspended: false }

/** What is known of a cardholder's templates and consents; asked again while controllers confirm. */
export const biometricsOf = (id: MaybeRefOrGetter<number | null>) =>
  queryOptions({
    queryKey: keyOf('cardholders', 'biometrics', id),
    queryFn: ({ signal }) =>
      unwrap(
        client.GET('/api/cardholders/{id}/biometrics/', {
          params: { path: { id: toValue(id) ?? 0 } },
          signal,
        }),
      ),
    refetchInterval: ({ state }) =>
      state.data?.consents.some((one) => !one.is_in_force && !one.gone_at) ? 3000 : false,
  })

export const isInForce = (consent: Consent, factor: Taken) =>
  consent.is_in_force && consent.factors.includes(factor)

/** Send a file as the one part of a form. */
export function formOf(file: Blob) {
  const form = new FormData()
  form.append('file', file)
  return form
}
