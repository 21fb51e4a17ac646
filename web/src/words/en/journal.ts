import { batchActions } from './batches'
import { doubleActions } from './doubles'
import { photoActions } from './photos'
import { setupActions } from './setup'

/** What was done, by the action that the journal has. */
export const actions = {
  'cardholder.enrolled': 'Enrolled',
  'cardholder.changed': 'Details changed',
  'card.issued': 'Card issued',
  'card.changed': 'Card changed',
  'card.returned': 'Card returned',
  'membership.added': 'Put into a group',
  'membership.changed': 'Membership changed',
  'membership.removed': 'Taken out of a group',
  'group.made': 'Group made',
  'group.changed': 'Group changed',
  'group.removed': 'Group removed',
  'schedule.made': 'Schedule made',
  'schedule.changed': 'Schedule changed',
  'schedule.removed': 'Schedule removed',
  ...batchActions,
  ...doubleActions,
  ...photoActions,
  ...setupActions,
}

/** What an act changed, by the field that the journal has. */
export const fields = {
  card: 'card',
  group: 'group',
  status: 'status',
  activation_at: 'activation',
  expiry_at: 'expiry',
  suspended_until: 'suspended until',
  number: 'number',
  first_name: 'first name',
  last_name: 'last name',
  title: 'title',
  email: 'e-mail',
  display_override: 'shown as',
  phones: 'telephone',
  language: 'language',
  born_on: 'date of birth',
  extended_time: 'extended time',
  parent: 'below',
  default_groups: 'proposed access groups',
  is_retired: 'retired',
  short_name: 'short name',
  remarks: 'remarks',
  department: 'department',
  company: 'company',
  kind: 'kind',
  standing: 'standing',
  standing_reason: 'reason',
  grants: 'doors',
  name: 'name',
  hours: 'hours',
  zone: 'time zone',
}
