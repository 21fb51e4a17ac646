import type { RowState } from './intake'

/** Which rows are looked at: those in a state, or with a kind of fault. */
export interface Asked {
  state: RowState | ''
  code: string
  column: number | null
}
export const EVERY_ROW: Asked = { state: '', code: '', column: null }
export const isSameAsked = (one: Asked, other: Asked) =>
  one.state === other.state && one.code === other.code && one.column === other.column
