import type { FileDraft, House } from '@/api/client'

export interface Proposal {
  joins: number[]
  leaves: number[]
}

/** The access groups of a department and of all above it. */
function defaultsOf(id: number | null | undefined, departments: House['departments']): Set<number> {
  const found = new Set<number>()
  const byId = new Map(departments.map((one) => [one.id, one]))
  for (let here = byId.get(id ?? 0); here; here = byId.get(here.parent_id ?? 0))
    here.default_groups.forEach((group) => found.add(group))
  return found
}

/** What the department proposes to somebody who comes into it; null when there is nothing to propose. */
export function proposalFor(
  base: FileDraft,
  draft: FileDraft,
  departments: House['departments'],
): Proposal | null {
  if (draft.department === base.department) return null
  const [before, after] = [
    defaultsOf(base.department, departments),
    defaultsOf(draft.department, departments),
  ]
  const has = new Set(draft.memberships.map((one) => one.group))
  const joins = [...after].filter((group) => !has.has(group))
  const leaves = [...before].filter((group) => has.has(group) && !after.has(group))
  return joins.length || leaves.length ? { joins, leaves } : null
}

/** The draft as it would be with the proposal taken over. */
export function withProposal(draft: FileDraft, { joins, leaves }: Proposal): FileDraft {
  return {
    ...draft,
    memberships: [
      ...draft.memberships.filter((one) => !leaves.includes(one.group)),
      ...joins.map((group) => ({ group, activation_at: null, expiry_at: null })),
    ],
  }
}
