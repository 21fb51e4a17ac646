import type { components } from '@/api/schema'

export const KINDS = ['sites', 'departments', 'companies'] as const
export type Scope = Record<(typeof KINDS)[number], number[]>

/** A scope as the fields take it: what is not kept is an empty choice. */
export const scopeOf = (kept: components['schemas']['KeptTo'] | undefined): Scope => ({
  sites: kept?.sites ?? [],
  departments: kept?.departments ?? [],
  companies: kept?.companies ?? [],
})

/** A scope as it is saved: a kind in which nothing was chosen is not kept. */
export const keptTo = (scope: Scope): components['schemas']['KeptToShapeRequest'] =>
  Object.fromEntries(KINDS.filter((kind) => scope[kind].length).map((kind) => [kind, scope[kind]]))
