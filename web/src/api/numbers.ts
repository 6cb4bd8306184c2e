import type { components } from './schema'

type Schemas = components['schemas']
type Row = Schemas['NumberRow']
type Ref = Schemas['Number']

/** A computed figure with how it was worked out. */
export interface Derived extends Omit<Row, 'inputs'> {
  inputs: (Omit<Schemas['NumberInput'], 'number'> & { number?: Derived })[]
}

/** A document with its figures in place of the rows they stand in. */
export type Whole<T> = T extends Ref
  ? Derived
  : T extends readonly (infer U)[]
    ? Whole<U>[]
    : T extends object
      ? { [K in keyof T]: Whole<T[K]> }
      : T

/**
 * Puts the figures of a document, and of documents within it, where they are
 * referred to: on the way here each is written down once.
 */
export function whole<T>(document: T): Whole<T> {
  return filled(document, []) as Whole<T>
}

function filled(value: unknown, table: Derived[]): unknown {
  if (Array.isArray(value)) return typeof value[0] === 'number' ? value : value.map((v) => filled(v, table))
  if (value === null || typeof value !== 'object') return value
  const entries = Object.entries(value)
  if (entries.length === 1 && entries[0][0] === 'n') return table[entries[0][1] as number]
  const rows = (value as { numbers?: Row[] }).numbers
  const own = rows ? derived(rows) : table
  const out: Record<string, unknown> = {}
  for (const [key, v] of entries) if (key !== 'numbers') out[key] = filled(v, own)
  if (rows) out.numbers = []
  return out
}

/** Rows refer to rows before them. */
function derived(rows: Row[]): Derived[] {
  const out: Derived[] = []
  for (const row of rows) {
    out.push({ ...row, inputs: row.inputs.map((i) => ({ ...i, number: i.number === undefined ? undefined : out[i.number] })) })
  }
  return out
}
