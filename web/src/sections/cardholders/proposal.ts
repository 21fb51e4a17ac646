import type { FileDraft, House } from '@/api/client'

import { newMembership } from './membership'

export interface Proposal {
  joins: number[]
  leaves: number[]
}

/** The access groups that a department proposes, as the server says it. */
const proposedBy = (id: number | null | undefined, departments: House['departments']) =>
  new Set(departments.find((department) => department.id === id)?.proposed_groups)

/** What the department proposes to somebody who comes into it; null when there is nothing to propose. */
export function proposalFor(
  base: FileDraft,
  draft: FileDraft,
  departments: House['departments'],
): Proposal | null {
  if (draft.department === base.department) return null
  const [before, after] = [
    proposedBy(base.department, departments),
    proposedBy(draft.department, departments),
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
      ...joins.map(newMembership),
    ],
  }
}
