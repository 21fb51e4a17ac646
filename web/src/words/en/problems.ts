import { accountProblems } from './accounts'
import { batchProblems } from './batches'
import { intakeProblems } from './intake'
import { cardProblems } from './cards'
import { biometricProblems } from './biometrics'
import { credentialProblems } from './credentials'
import { doubleProblems } from './doubles'
import { holidayProblems } from './holidays'
import { photoProblems } from './photos'
import { doingProblems } from './doing'
import { placesProblems } from './places'
import { setupProblems } from './setup'

/** What is wrong, by the code that the API tells it with. */
export const problems = {
  'input.too_long': 'At most {most} characters.',
  'input.invisible_characters': 'There is a character in it that cannot be seen. Type it again.',
  'input.no_longer_there': 'This is no longer there. Choose again.',
  'input.blank': 'This is needed.',
  'input.required': 'This is needed.',
  'input.null': 'This is needed.',
  'input.invalid': 'This cannot be read.',
  'input.invalid_choice': 'This is none of the choices.',
  'input.max_value': 'This number is too large.',
  'input.min_value': 'This number is too small.',
  'input.max_length': 'This is too long.',
  'input.make_aware': 'The clocks skip this time on that day. Choose another.',
  'input.day': 'Write a day such as 24.11.2026.',
  'input.date': 'Write a day such as 24.11.2026, and a time such as 17:30.',
  'request.unknown_field': 'There is no field of this name.',
  'request.version_needed': 'A change must name the version it is for.',
  'request.if_match_not_readable': 'This is not a version.',
  'request.key_used_otherwise': 'This key was used for another request.',
  'membership.not_found': 'They are not in this access group.',
  'input.not_a_dict': 'An object is expected here.',
  'list.card_not_readable': 'This is not a card number.',
  'card.in_stock': 'Nobody has this card.',
  'card.stays_one_card': 'Format, facility code, card number and holder of a card do not change.',
  'cardholder.number_missing': 'A cardholder needs a number.',
  'cardholder.number_taken': 'Number {number} is {name}’s.',
  'cardholder.external_id_taken': '{name} is known by this there.',
  'cardholder.external_id_twice': 'More than one of them is known by this there.',
  'cardholder.external_id_taken_elsewhere': 'Somebody whom you do not see is known by this there.',
  'cardholder.number_twice': 'More than one of them has the number {number}.',
  'own.twice': 'More than one of them has this value.',
  'cardholder.name_missing': 'A cardholder needs a first or a last name.',
  'cardholder.email_not_readable': 'This is no e-mail address.',
  'cardholder.not_suspended': 'An end of the suspension needs the standing Suspended.',
  'cardholder.not_found': 'This cardholder is no longer there.',
  'card.out_of_range': 'From {lowest_number} to {highest_number} in this format.',
  'card.foreign_facility':
    'No card and no box here has facility code {facility_code}. It was taken: make sure that the card is one of yours.',
  'card.twice': 'The same card stands here twice.',
  'card.same_bits':
    'These bits are also those of card {card} in the format {format}, which {holder} has. No reader can tell the two apart: take another card.',
  'card.same_bits_twice': 'Two cards here have the same bits, in two formats. No reader can tell them apart.',
  'card.already_issued': 'Card {card} is already issued to {holder}. Return it there first.',
  'card.cannot_become': 'A card that is {status} cannot become that.',
  'card.cannot_be_issued': 'Card {card} is {status}. It cannot be issued.',
  'card.status_has_no_holder': 'A card in this status belongs to nobody. Return it instead.',
  'membership.meets':
    '{one} and {other} meet at {door}, whose controller knows one group of a person there. Leave one of them.',
  'group.meets':
    '{count} person is in {one} and in {other}, and these two meet at {door}, whose controller knows one group of a person there. | {count} people are in {one} and in {other}, and these two meet at {door}, whose controller knows one group of a person there.',
  'controller.groups_meet':
    '{count} person is in {one} and in {other}, and these two meet at {door}. Take them out of one first. | {count} people are in {one} and in {other}, and these two meet at {door}. Take them out of one first.',
  'membership.twice': 'The same group stands here twice.',
  'span.ends_before_it_begins': 'The expiry must be after the activation.',
  'schedule.no_hours': 'A schedule needs at least one stretch of hours.',
  'schedule.hours_outside': 'These hours lie outside of a day.',
  'schedule.hours_empty': 'These hours are empty: they end when they begin.',
  'schedule.hours_too_long': 'More than a day. Split these hours.',
  'schedule.hours_overlap': 'These hours overlap others.',
  'schedule.unknown_zone': 'There is no time zone called “{zone}”.',
  'schedule.name_taken': 'There is a schedule called {name} already.',
  'schedule.in_use':
    'The schedule is used by one group. Take it out of that first. | The schedule is used by {count} groups. Take it out of them first.',
  'schedule.in_use_for_sending':
    'One controller is sent to by this schedule. Change that in Delivery first. | {count} controllers are sent to by this schedule. Change that in Delivery first.',
  'schedule.not_found': 'This schedule is no longer there.',
  'group.name_taken': 'There is a group called {name} already.',
  'group.has_people':
    'There is one person in the group. Take them out first. | There are {count} people in the group. Take them out first.',
  'group.too_many_to_merge': 'There are more than {most} people in it. Move them by a change to many first.',
  'review.hidden_groups':
    'Some of them come through this door by a group that you may not see. Somebody else must do this.',
  'group.has_hidden_people': 'There are people in it whom you may not see. Somebody else must do this.',
  'group.times_apart':
    'One person has times in both groups that do not meet. | {count} people have times in both groups that do not meet.',
  'group.merge_with_itself': 'Choose another group.',
  'group.review_needs_owner': 'Choose who looks through its people.',
  'grant.of_door_or_area': 'Choose a door or an area.',
  'rule.about_nothing': 'Choose a department, a kind or a company.',
  'plan.no_picture': 'This site has no picture of its plan.',
  'rule.twice': 'This rule stands here twice.',
  'area.is_granted':
    'One access group opens all doors of this area. Take it out there first. | {count} access groups open all doors of this area. Take it out there first.',
  'review.people_left':
    'One person is left. Keep them or take them out first. | {count} people are left. Keep them or take them out first.',
  'question.too_much_since':
    '{count} people were changed since: too many to take back for one question. Ask about a person, or a later instant.',
  'question.not_found': 'This question is no longer kept.',
  'question.too_many_saved': '{most} questions are kept. Forget one first.',
  'door.no_picture': 'The camera there shows nothing.',
  'group.not_found': 'This group is no longer there.',
  'grant.twice': 'This door stands here twice with the same schedule.',
  'operator.not_permitted': 'You may not do this.',
  'operator.not_signed_in': 'You are not signed in.',
  'operator.wrong_password': 'The operator or the password is wrong.',
  'request.too_many': 'Too many tries. Wait a minute.',
  'request.no_token': 'This page is too old. Load it again; what you typed is kept.',
  'request.too_large': 'This is more than Cadrin takes at once. Nothing was changed.',
  'server.busy': 'Others are saving, and have been for long. Nothing was changed: try again in a moment.',
  'server.failed': 'Something failed in Cadrin. Nothing was changed; the log of the server says why.',
  'draft.not_found': 'There is no such draft.',
  'request.not_found': 'This is not there.',
  'request.failed': 'Cadrin could not do this. Nothing was changed.',
  'request.not_readable': 'Cadrin could not read this. Nothing was changed.',
  'bench.not_there': 'No stand-ins are running.',
  'bench.does_not_answer': 'The stand-ins do not answer.',
  'bench.no_such_device': 'There is no such reader or controller at the test bench.',
  'bench.refused': 'The stand-ins did not take this.',
  'controller.not_found': 'This controller is no longer there.',
  'door.not_found': 'This door is no longer there.',
  'read.not_found': 'This read is no longer there.',
  'read.not_readable': 'These are no bits such as 26:2F764DD.',
  'list.unknown_key': 'The list cannot go on from here. Look at it again.',
  'save.stale': 'Somebody else saved in between.',
  other: 'This was refused: {code}.',
  ...accountProblems,
  ...batchProblems,
  ...intakeProblems,
  ...cardProblems,
  ...credentialProblems,
  ...biometricProblems,
  ...doubleProblems,
  ...photoProblems,
  ...holidayProblems,
  ...doingProblems,
  ...placesProblems,
  ...setupProblems,
}
