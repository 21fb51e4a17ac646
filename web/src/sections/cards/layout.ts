import type { Layout } from './queries'

type Field = Layout['fields_of_it'][number]
type Piece = Field['pieces'][number]

/** A layout as it is typed: bits as `2-9, 14`, bits that never differ as `1-5=11010`. */
export interface TypedLayout {
  length: string
  fields: { name: string; bits: string; coding: Field['coding'] }[]
  parity: { bit: string; kind: 'even' | 'odd'; over: string }[]
  fixed: string
  is_reversed: boolean
  is_inverted: boolean
}

const written = ({ first, last }: Piece) => (first === last ? `${first}` : `${first}-${last}`)

/** Runs of bits that follow each other. */
function runs(bits: number[]): Piece[] {
  const found: Piece[] = []
  for (const bit of bits) {
    const last = found.at(-1)
    if (last && last.last === bit - 1) last.last = bit
    else found.push({ first: bit, last: bit })
  }
  return found
}

const writeBits = (bits: number[]) => runs(bits).map(written).join(', ')

function writeFixed(fixed: NonNullable<Layout['fixed']>): string {
  const value = new Map(fixed.map((one) => [one.bit, one.value]))
  return runs([...value.keys()].sort((one, other) => one - other))
    .map(
      (run) =>
        `${written(run)}=${bitsIn(run)
          .map((bit) => value.get(bit))
          .join('')}`,
    )
    .join(', ')
}

export function typed(layout: Layout): TypedLayout {
  return {
    length: String(layout.length_bits),
    fields: layout.fields_of_it.map(({ name, pieces, coding }) => ({
      name,
      bits: pieces.map(written).join(', '),
      coding,
    })),
    parity: (layout.parity ?? []).map(({ bit, kind, over }) => ({
      bit: String(bit),
      kind,
      over: writeBits(over),
    })),
    fixed: writeFixed(layout.fixed ?? []),
    is_reversed: layout.is_reversed ?? false,
    is_inverted: layout.is_inverted ?? false,
  }
}

const bitsIn = ({ first, last }: Piece) =>
  Array.from({ length: Math.max(0, last - first + 1) }, (_, place) => first + place)

/** Read `2-9, 14`; null when it cannot be read. */
export function readPieces(text: string): Piece[] | null {
  const pieces = text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => /^(\d{1,3})(?:\s*-\s*(\d{1,3}))?$/.exec(part))
    .map((found) => found && { first: Number(found[1]), last: Number(found[2] ?? found[1]) })
  return pieces.every((piece) => piece !== null) ? pieces : null
}

/** Read `1-5=11010, 26=1`; null when it cannot be read. */
function readFixed(text: string): NonNullable<Layout['fixed']> | null {
  const found: NonNullable<Layout['fixed']> = []
  for (const part of text.split(',').filter((one) => one.trim())) {
    const [bits, values] = part.split('=').map((one) => one.trim())
    const run = readPieces(bits ?? '')
    const places = run?.flatMap(bitsIn) ?? []
    if (!run || !values || !/^[01]+$/.test(values) || values.length !== places.length) return null
    places.forEach((bit, place) => found.push({ bit, value: Number(values[place]) }))
  }
  return found
}

/** What was typed as a layout, or the places that cannot be read. */
export function readLayout(of: TypedLayout): { layout: Layout } | { unreadable: string[] } {
  const unreadable: string[] = []
  const pieces = (text: string, place: string) => {
    const found = readPieces(text)
    if (!found?.length) unreadable.push(place)
    return found ?? []
  }
  const whole = (text: string, place: string) => {
    if (!/^\d{1,3}$/.test(text.trim())) unreadable.push(place)
    return Number(text)
  }
  const fixed = readFixed(of.fixed)
  if (!fixed) unreadable.push('fixed')
  const layout: Layout = {
    length_bits: whole(of.length, 'length_bits'),
    fields_of_it: of.fields.map((one) => ({
      name: one.name,
      pieces: pieces(one.bits, one.name),
      coding: one.coding,
    })),
    parity: of.parity.map((one, place) => ({
      bit: whole(one.bit, `parity.${place}`),
      kind: one.kind,
      over: pieces(one.over, `parity.${place}`).flatMap(bitsIn),
    })),
    fixed: fixed ?? [],
    is_reversed: of.is_reversed,
    is_inverted: of.is_inverted,
  }
  return unreadable.length ? { unreadable } : { layout }
}
