export const doubles = {
  title: 'Possible duplicate: | Possible duplicates:',
  signs: {
    number: 'the same number',
    email: 'the same e-mail address',
    name_and_birth_date: 'nearly the same name, born on the same day',
    name_and_department: 'nearly the same name in the same department',
  },
  goOn: 'They are somebody else',
  merge: 'Merge',
  mergeTitle: 'Merge two records of one person',
  mergeHint:
    'Choose what to keep. {number} is removed; its history, reads, cards and groups move to the other record.',
  mergeNow: 'Merge into one',
  field: 'Field',
  both: 'It will have the cards and access groups of both: {cards}, {groups}.',
  cards: 'no card | one card | {n} cards',
  groups: 'no access group | one access group | {n} access groups',
  saveAnyway: 'Save as another person',
  look: 'Look again',
  ask: 'This may be somebody who is in the register already: {names}.',
}

export const people = {
  others: '{names} has this cardholder open too. | {names} have this cardholder open too.',
  takeBack: 'Undo',
  takeBackOf: 'Undo: {what}',
  takenBack: 'Undone.',
  held: 'At the controllers',
  erase: 'Erase for good',
  eraseTitle: 'Erase {name} for good?',
  eraseHint:
    'Name, details and images are removed from the register and the journal and cannot be brought back. Cards are returned, all access ends. Reads and journal stay under the number {number} alone.',
  eraseReason: 'Reason',
  erased: 'This cardholder was erased. Only the number is left.',
  merged: 'Merged with what {name} saved: {changes}',
  clash: '{field}: you wrote “{mine}”, they saved “{theirs}”',
}

export const doubleProblems = {
  'journal.cannot_be_taken_back': 'This cannot be undone.',
  'journal.changed_since': 'It was changed again since: {fields}. Take that back first.',
  'cardholder.erased': 'This cardholder was erased.',
  'erase.needs_reason': 'Say why, in {least} letters at least.',
  'merge.same': 'These are the same record.',
}

export const doubleActions = {
  'cardholder.merged': 'merged another record into this one',
  'cardholder.erased': 'erased the cardholder',
}
