import type { DoorReach, State } from '@/api/client'

import type { Shape } from './StateMark.vue'

export const shapeOfState: Record<State, Shape> = {
  in_force: 'disc',
  pending: 'ring',
  expired: 'dash',
  suspended: 'bar',
  barred: 'cross',
  departed: 'dash',
}

/** The mark of a door: open now, at other times of the week, or not at all. */
export function shapeOfDoor(door: DoorReach): Shape {
  if (door.is_open) return 'disc'
  return door.open_spans.length ? 'half' : 'dash'
}
