import type { Problem } from '@/api/client'

/** The problems of one part, seen from inside it: `cards.0.status` is `0.status` to the cards. */
export const under = (problems: Problem[], part: string): Problem[] =>
  problems
    .filter((one) => one.field?.startsWith(`${part}.`))
    .map((one) => ({ ...one, field: one.field?.slice(part.length + 1) ?? null }))
