import type { MembershipDraft } from '@/api/client'

/** A membership as an operator gives it: at once, without an end. */
export const newMembership = (group: number): MembershipDraft => ({
  group,
  activation_at: null,
  expiry_at: null,
  is_by_rule: false,
})
