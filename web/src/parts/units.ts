import type { Kind, Practice } from '../api/client'

export type System = Practice['units']

interface Shown {
  unit: string
  perKept: number
  digits: (value: number) => number
}

/** About so many significant figures, and never more decimals than can be read off a tool. */
const figures = (significant: number, mostDecimals: number) => (value: number) => {
  if (value === 0) return 0
  const before = Math.floor(Math.log10(Math.abs(value))) + 1
  return Math.max(0, Math.min(mostDecimals, significant - before))
}

/** Volumes range from bubbles to blocks: small ones keep two figures. */
const volumes = (value: number) => (value < 0.01 ? figures(2, 5)(value) : figures(3, 3)(value))

/** Plain numbers: what is counted or timed needs no more than three figures. */
const numbers = (value: number) => (Math.abs(value) < 1 ? figures(4, 3)(value) : figures(3, 2)(value))

const shown: Record<System, Record<Kind, Shown>> = {
  metric: {
    length: { unit: 'mm', perKept: 1, digits: figures(4, 1) },
    volume: { unit: 'mL', perKept: 1, digits: volumes },
    mass: { unit: 'g', perKept: 1, digits: figures(4, 1) },
    density: { unit: 'g/mL', perKept: 1, digits: figures(4, 3) },
    area: { unit: 'cm²', perKept: 1, digits: figures(4, 1) },
    time: { unit: 'h', perKept: 1, digits: figures(3, 1) },
    number: { unit: '', perKept: 1, digits: numbers },
  },
  us: {
    length: { unit: 'in', perKept: 1 / 25.4, digits: figures(4, 3) },
    volume: { unit: 'fl oz', perKept: 1 / 29.5735295625, digits: volumes },
    mass: { unit: 'oz', perKept: 1 / 28.349523125, digits: figures(4, 2) },
    density: { unit: 'g/mL', perKept: 1, digits: figures(4, 3) },
    area: { unit: 'in²', perKept: 1 / 6.4516, digits: figures(4, 2) },
    time: { unit: 'h', perKept: 1, digits: figures(3, 1) },
    number: { unit: '', perKept: 1, digits: numbers },
  },
}

/** A kept value as it is shown: figures and unit apart, since the unit is set smaller. */
export function show(value: number, kind: Kind, system: System): { text: string; unit: string } {
  const s = shown[system][kind]
  const v = value * s.perKept
  const text = v.toFixed(s.digits(v))
  return { text: kind === 'number' ? String(Number(text)) : text, unit: s.unit } // a count is no 2.000
}

/** A kept value as it is typed, with enough figures to come back unchanged to the eye. */
export function typed(value: number, kind: Kind, system: System): string {
  const v = value * shown[system][kind].perKept
  return String(Number(v.toFixed(system === 'us' ? 4 : 3)))
}

export const unitOf = (kind: Kind, system: System) => shown[system][kind].unit
