import type { components } from '@/api/schema'

export type Places = components['schemas']['PlacesShape']
export type Site = Places['sites'][number]
export type Area = Places['areas'][number]
export type Door = Places['doors'][number]
/** What a door does beside opening. */
export type DoorRules = Pick<
  Door,
  | 'held_seconds'
  | 'tells_forced'
  | 'unlocked_schedule_id'
  | 'closed_schedule_id'
  | 'first_person'
  | 'second_seconds'
  | 'consent_seconds'
  | 'has_exit_button'
  | 'interlock'
>
export type Controller = Places['controllers'][number]
export type Reader = Places['readers'][number]

/** What is open to be changed: one of its kind, or a new one. */
export interface Chosen {
  kind: 'site' | 'area' | 'door' | 'controller' | 'search'
  id: number | null
  /** The site or the area that something new lies in. */
  within?: number
}
