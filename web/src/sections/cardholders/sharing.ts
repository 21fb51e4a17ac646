import type { FileDraft, SavedFile } from '@/api/client'

import { newPin } from './pins/pin'

const SHARED = ['kind', 'department', 'company', 'language', 'activation_at', 'expiry_at'] as const

/** What people who are enrolled one after the other share: it is chosen once, for the first of them. */
export interface Shared extends Pick<FileDraft, (typeof SHARED)[number] | 'memberships' | 'pins'> {
  /** Whom they share it with. */
  name: string
  /** Whether they get a card each: the next one shown at the desk is theirs. */
  getsCard: boolean
  /** It was said already that they are saved without any credential. */
  isWithoutCredential: boolean
}

/** By the key of the draft that takes it over. */
const waiting = new Map<string, Shared>()

/** What the next person shares with one who was just saved; PINs that were made up are made up anew. */
export function sharedWith(saved: SavedFile, draft: FileDraft, isWithoutCredential: boolean): Shared {
  const pins = draft.pins.filter((pin) => pin.is_generated)
  return {
    ...(Object.fromEntries(SHARED.map((name) => [name, saved[name]])) as Pick<
      FileDraft,
      (typeof SHARED)[number]
    >),
    memberships: saved.memberships.filter((one) => !one.is_by_rule),
    pins: pins.map(({ label, opens_alone }) => newPin({ is_generated: true, label, opens_alone })),
    name: saved.display_name,
    getsCard: saved.cards.length > 0,
    isWithoutCredential,
  }
}

/** The file of somebody new with what they share. */
export function withShared(file: FileDraft, shared: Shared): FileDraft {
  const { memberships, pins } = shared
  const plain = Object.fromEntries(SHARED.map((name) => [name, shared[name]]))
  return { ...file, ...plain, memberships, pins: [...file.pins, ...pins] }
}

export const keepShared = (key: string, shared: Shared) => waiting.set(key, shared)
export function takeShared(key: string): Shared | null {
  const shared = waiting.get(key) ?? null
  waiting.delete(key)
  return shared
}
