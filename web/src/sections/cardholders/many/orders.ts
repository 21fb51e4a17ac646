import type { House } from '@/api/client'
import type { components } from '@/api/schema'

import type { Selection } from './selection'

export type Batch = components['schemas']['BulkChangeShapeRequest']
export type Act = Batch['act']

/** What was chosen from a list; `NONE` for nobody's any more. */
export const NONE = 0

/** One act on everybody who is selected, as it is being chosen: nothing is done before something is. */
export interface Order {
  act: Act
  chosen: number | null
  standing: Batch['standing'] | null
  reason: string
  hasNoEnd: boolean
  instant: string | null
  activation_at: string | null
  expiry_at: string | null
  /** A department brings the groups it proposes, if wished. */
  isWithGroups: boolean
}

export const newOrder = (act: Act): Order => ({
  act,
  chosen: null,
  standing: null,
  reason: '',
  hasNoEnd: false,
  instant: null,
  activation_at: null,
  expiry_at: null,
  isWithGroups: true,
})

export function isReady(order: Order): boolean {
  if (order.act === 'standing') return order.standing !== null
  if (order.act === 'expiry') return order.hasNoEnd || order.instant !== null
  return order.chosen !== null
}

/** The groups that the department proposes. */
export function proposedGroups({ act, chosen }: Order, house: House) {
  const department = house.departments.find((one) => one.id === chosen)
  const ids = act === 'department' ? (department?.proposed_groups ?? []) : []
  return house.groups.filter((one) => ids.includes(one.id))
}

/** What is begun for an order: the act itself, and after it a group each. */
export function batchesOf(order: Order, selection: Selection, house: House): Batch[] {
  const { act, reason, activation_at, expiry_at } = order
  const body: Batch = {
    ...selection,
    act,
    id: order.chosen || null,
    standing: order.standing ?? 'suspended',
    instant: order.hasNoEnd ? null : order.instant,
    reason,
    activation_at,
    expiry_at,
  }
  const groups = order.isWithGroups ? proposedGroups(order, house) : []
  return [body, ...groups.map(({ id }) => ({ ...body, act: 'add_group' as const, id }))]
}
