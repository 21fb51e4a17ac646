import type { Gap } from '@/api/client'

/** Where on the page a gap is closed; nowhere for what is not held. */
export const PART_OF_GAP: Record<Gap, string> = {
  no_card: 'cards',
  no_card_in_force: 'cards',
  card_not_read: 'cards',
  no_plate: 'plates',
  no_consent: 'fingers',
  no_finger: 'fingers',
  no_finger_in_force: 'fingers',
  no_face: 'fingers',
  no_face_in_force: 'fingers',
  no_pin: 'pins',
  no_pin_in_force: 'pins',
  no_access_group: 'access',
  groups_open_nothing: 'access',
  no_membership_in_force: 'access',
  expired: 'validity',
  suspended: 'validity',
  barred: 'validity',
  departed: 'validity',
  not_held: '',
}
