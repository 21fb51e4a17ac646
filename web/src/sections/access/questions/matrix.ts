import type { components } from '@/api/schema'

type Matrix = components['schemas']['MatrixShape']
type Strip = number[][]

/** A door with its strip in each of the groups; null where the group does not open it. */
export interface MatrixRow {
  door: Matrix['doors'][number]
  strips: (Strip | null)[]
}

/** The groups and doors whose names have what is sought, without those that would stay empty. */
export function fitting(
  matrix: Matrix,
  ofGroup: string,
  ofDoor: string,
): { groups: Matrix['groups']; rows: MatrixRow[] } {
  const has = (words: string, sought: string) => words.toLowerCase().includes(sought.trim().toLowerCase())
  const cells = matrix.cells.flatMap(([place = 0, at = 0, strip = 0]) => {
    const group = matrix.groups[place]
    const door = matrix.doors[at]
    const fits = group && door && has(group.name, ofGroup) && has(`${door.name} ${door.area}`, ofDoor)
    return fits ? [{ group, door, strip: matrix.strips[strip] ?? [] }] : []
  })
  const used = new Set(cells.map((cell) => cell.group))
  const groups = matrix.groups.filter((one) => used.has(one))
  const placeOf = new Map(groups.map((one, place) => [one, place]))
  const rows = new Map<Matrix['doors'][number], MatrixRow>()
  for (const { group, door, strip } of cells) {
    const row = rows.get(door) ?? { door, strips: groups.map(() => null) }
    row.strips[placeOf.get(group) ?? 0] = strip
    rows.set(door, row)
  }
  return { groups, rows: matrix.doors.flatMap((one) => rows.get(one) ?? []) }
}

/** One text of an address; empty where there is none. */
export const textOf = (one: unknown): string => (typeof one === 'string' ? one : '')
