/** The logic that stays in the front end, in one bundle without a screen, so that tests can call it. */
export { readDay, writtenDay } from './kit/days'
export { dayHours, dayText, litIn } from './kit/hours'
export { under } from './kit/parts'
export { daysOfYear } from './sections/access/holidays/year'
export { readLayout, readPieces, typed } from './sections/cards/layout'
export { clashes, merge } from './sections/cardholders/merge'
export { combined, differing } from './sections/cardholders/merging'
export { proposalFor, withProposal } from './sections/cardholders/proposal'
