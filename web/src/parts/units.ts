import type { Kind, Practice } from '../api/client'

export type System = Practice['units']

/** What a shop measures in: one system for all, or each kind by itself. */
export type Units = System | { length: System; volume: System; mass: System; comma?: boolean }

const systemOf = (kind: Kind, units: Units): System => {
  if (typeof units === 'string') return units
  switch (kind) {
    case 'length':
    case 'area':
      return units.length
    case 'volume':
      return units.volume
    case 'mass':
      return units.mass
    default:
      return 'metric'
  }
}

interface Shown {
  unit: string
  perKept: number
  digits: (value: number) => number
  /** What is less is not told apart from it. */
  least?: number
}

/** About so many significant figures, and never more decimals than can be read off a tool. */
const figures = (significant: number, mostDecimals: number) => (value: number) => {
  if (value === 0) return 0
  const before = Math.floor(Math.log10(Math.abs(value))) + 1
  return Math.max(0, Math.min(mostDecimals, significant - before))
}

/** Volumes range from bubbles to blocks; what is less than the least is the grain of the reckoning. */
const volumes = figures(3, 3)

/** Plain numbers: what is counted or timed needs no more than three figures. */
const numbers = (value: number) => (Math.abs(value) < 1 ? figures(4, 3)(value) : figures(3, 2)(value))

const shown: Record<System, Record<Kind, Shown>> = {
  metric: {
    length: { unit: 'mm', perKept: 1, digits: figures(4, 1) },
    volume: { unit: 'mL', perKept: 1, digits: volumes, least: 0.01 },
    mass: { unit: 'g', perKept: 1, digits: figures(4, 1) },
    density: { unit: 'g/mL', perKept: 1, digits: figures(4, 3) },
    area: { unit: 'cm²', perKept: 1, digits: figures(4, 1) },
    time: { unit: 'h', perKept: 1, digits: figures(3, 1) },
    number: { unit: '', perKept: 1, digits: numbers },
  },
  us: {
    length: { unit: 'in', perKept: 1 / 25.4, digits: figures(4, 3) },
    volume: { unit: 'fl oz', perKept: 1 / 29.5735295625, digits: volumes, least: 0.001 },
    mass: { unit: 'oz', perKept: 1 / 28.349523125, digits: figures(4, 2) },
    density: { unit: 'g/mL', perKept: 1, digits: figures(4, 3) },
    area: { unit: 'in²', perKept: 1 / 6.4516, digits: figures(4, 2) },
    time: { unit: 'h', perKept: 1, digits: figures(3, 1) },
    number: { unit: '', perKept: 1, digits: numbers },
  },
}

/** Digits the way the shop writes decimals. */
const written = (text: string, units: Units) => (typeof units === 'object' && units.comma ? text.replace('.', ',') : text)

/** A kept value as it is shown: figures and unit apart, since the unit is set smaller. */
export function show(value: number, kind: Kind, units: Units): { text: string; unit: string } {
  const s = shown[systemOf(kind, units)][kind]
  const v = value * s.perKept
  if (s.least && v > 0 && v < s.least) return { text: `under ${written(String(s.least), units)}`, unit: s.unit }
  const text = v.toFixed(s.digits(v))
  return { text: written(kind === 'number' ? String(Number(text)) : text, units), unit: s.unit } // a count is no 2.000
}

/** A kept value in one piece, for texts that set no unit smaller. */
export function told(value: number, kind: Kind, units: Units): string {
  const { text, unit } = show(value, kind, units)
  return unit ? `${text} ${unit}` : text
}

/** A figure that practice knows roughly, as minutes at a casting: to halves below ten, to whole ones above. */
export function roughly(value: number, units: Units): string {
  return written(String(value < 10 ? Math.max(0.5, Math.round(value * 2) / 2) : Math.round(value)), units)
}

/** A kept value as it is typed, with enough figures to come back unchanged to the eye. */
export function typed(value: number, kind: Kind, units: Units): string {
  const system = systemOf(kind, units)
  const v = value * shown[system][kind].perKept
  return written(String(Number(v.toFixed(system === 'us' ? 4 : kind === 'length' ? 2 : 3))), units)
}

/** A number typed in the unit that the field shows, for when nobody reads more; null for anything else. */
export function plainly(text: string, kind: Kind, units: Units): number | null {
  const plain = text.trim().replace('−', '-').replace(',', '.')
  if (!/^-?(\d+\.?\d*|\.\d+)$/.test(plain)) return null
  return Number(plain) / shown[systemOf(kind, units)][kind].perKept
}

export const unitOf = (kind: Kind, units: Units) => shown[systemOf(kind, units)][kind].unit

/** Pressures are kept in kPa, temperatures in °C; how a shop shows them. */
export const pressures: Record<string, number> = { kPa: 1, psi: 1 / 6.894757293, bar: 0.01 }
export const warmth = {
  shown: (celsius: number, unit: string) => (unit === '°F' ? Number((celsius * 1.8 + 32).toFixed(1)) : celsius),
  kept: (value: number, unit: string) => (unit === '°F' ? (value - 32) / 1.8 : value),
}
