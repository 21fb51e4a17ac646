/**
 * By what words an answer is kept, and asked for anew once what it shows was changed: its kind, for most a part of
 * that, and then what it was asked with.
 */
interface Parts {
  account: never
  batches: never
  bench: 'find'
  boxes: never
  cardholders:
    'biometrics' | 'file' | 'history' | 'letters' | 'likeness' | 'list' | 'portrait' | 'records' | 'views'
  cards: 'box' | 'format' | 'next-issue' | 'number'
  coming: never
  controllers: 'records'
  desk: never
  doors: 'now' | 'people' | 'releases' | 'report'
  drafts: 'one'
  formats: never
  groups: 'find' | 'kept-out' | 'merge' | 'people' | 'untidy'
  house: never
  images: unknown
  intakes: 'all' | 'mappings' | 'one' | 'rows' | 'samples'
  journal: unknown
  'pin-lists': never
  plan: unknown
  questions: unknown
  reads: 'explanation' | 'life' | 'list' | 'presence' | 'unknown'
  reviews: 'people'
  schedules: 'countries' | 'holidays' | 'weigh' | 'weigh-calendar'
  setup: unknown
  stock: 'lowest'
  waiting: never
  weigh: unknown
  'weigh-group': unknown
}

type PartOf<Kind extends keyof Parts> = [Parts[Kind]] extends [never] ? [] : [Parts[Kind]?, ...unknown[]]

/** The key of an answer. */
export const keyOf = <Kind extends keyof Parts>(kind: Kind, ...part: PartOf<Kind>): readonly unknown[] => [
  kind,
  ...part,
]
