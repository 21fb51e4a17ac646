/** The logic that stays in the front end, in one bundle without a screen, so that tests can call it. */
import { region, show, t } from './words'
import { first } from './words/en'
import { rest } from './words/en/rest'

show('en', first, rest)

/** Write and read days as a country does. */
export const goByRegion = (code: string) => (region.value = code)

export const said = (key: string, params: number | Record<string, unknown>, plural?: number) =>
  t(key, params as Record<string, unknown>, plural as number)

export { readDay, writtenDay } from './kit/time/days'
export { clockWords, dayOrder, readClock } from './kit/time/region'
export { dayHours, dayText, litIn } from './kit/time/hours'
export { copied, isLitAt, litOfDay, painted } from './kit/time/painting'
export { under } from './kit/state/parts'
export { daysOfYear } from './sections/access/holidays/year'
export { readLayout, readPieces, typed } from './sections/cards/layout'
export { clashes, merge } from './sections/cardholders/merge'
export { combined, differing } from './sections/cardholders/merging'
export { asQuery as filtersAsQuery, fromQuery as filtersFromQuery } from './sections/cardholders/filters'
export { proposalFor, withProposal } from './sections/cardholders/proposal'
export { asQuery as grantsAsQuery, fromQuery as grantsFromQuery } from './sections/access/groups/granting'
export { moved as movedOnPlan, movedArea, sizedArea } from './sections/access/plan/moving'
export { fitting as fittingInMatrix } from './sections/access/questions/matrix'
export {
  asQuery as askedAsQuery,
  fromQuery as askedFromQuery,
  parametersOf,
} from './sections/access/questions/asked'
export { reachByArea } from './sections/cardholders/reach'
