import { describe, expect, it } from 'vitest'
import { plainly, roughly, pressures, show, typed, unitOf, warmth } from './units'

describe('measures as they are shown', () => {
  it.each([
    [98.425, 'length', 'metric', '98.4', 'mm'],
    [98.425, 'length', 'us', '3.875', 'in'],
    [0.8, 'volume', 'metric', '0.800', 'mL'],
    [0.00031, 'volume', 'metric', 'under 0.01', 'mL'],
    [0.0124, 'volume', 'metric', '0.012', 'mL'],
    [71.42, 'volume', 'metric', '71.4', 'mL'],
    [642.4, 'volume', 'metric', '642', 'mL'],
    [29.5735295625, 'volume', 'us', '1.00', 'fl oz'],
    [453.59237, 'mass', 'us', '16.00', 'oz'],
    [83.13, 'mass', 'metric', '83.1', 'g'],
    [1.18, 'density', 'us', '1.180', 'g/mL'],
    [0, 'volume', 'metric', '0', 'mL'],
    [35.94, 'area', 'metric', '35.9', 'cm²'],
    [12.9032, 'area', 'us', '2.00', 'in²'],
    [18.4, 'time', 'metric', '18.4', 'h'],
    [2, 'number', 'metric', '2', ''],
    [5.68, 'number', 'us', '5.68', ''],
  ] as const)('%f %s in %s is %s %s', (value, kind, system, text, unit) => {
    expect(show(value, kind, system)).toEqual({ text, unit })
  })

  it('takes each kind by itself: inches with grams', () => {
    const shop = { length: 'us', volume: 'metric', mass: 'metric' } as const
    expect(show(25.4, 'length', shop)).toEqual({ text: '1.000', unit: 'in' })
    expect(show(6.4516, 'area', shop).unit).toBe('in²')
    expect(show(83.13, 'mass', shop)).toEqual({ text: '83.1', unit: 'g' })
    expect(typed(98.425, 'length', shop)).toBe('3.875')
    expect(unitOf('volume', shop)).toBe('mL')
    expect(warmth.kept(warmth.shown(22, '°F'), '°F')).toBeCloseTo(22)
    expect(340 * pressures.psi).toBeCloseTo(49.3, 1)
  })

  it('gives a typed value back without rounding it away', () => {
    expect(typed(98.425, 'length', 'us')).toBe('3.875')
    expect(typed(12, 'length', 'metric')).toBe('12')
    expect(unitOf('mass', 'us')).toBe('oz')
  })
})

describe('a shop that writes decimals with a comma', () => {
  const comma = { length: 'metric', volume: 'metric', mass: 'metric', comma: true } as const
  it('shows and types them so', () => {
    expect(show(98.425, 'length', comma).text).toBe('98,4')
    expect(typed(98.42, 'length', comma)).toBe('98,42')
  })
})

describe('a plain number, read without the server', () => {
  it.each([
    ['12.5', 'mass', 'metric', 12.5],
    ['39,5', 'mass', 'metric', 39.5],
    ['2', 'length', 'us', 50.8],
    ['−3', 'length', 'metric', -3],
  ] as const)('%s', (text, kind, units, want) => expect(plainly(text, kind, units)).toBeCloseTo(want, 9))
  it.each(['3 7/8 in', '12 g', '', '1.2.3', 'x'])('%s is not one', (text) => expect(plainly(text, 'length', 'metric')).toBeNull())
})

describe('what practice knows roughly', () => {
  it.each([
    [4.51, '4.5'],
    [0.1, '0.5'],
    [12.4, '12'],
  ])('%d min is said as %s', (value, said) => {
    expect(roughly(value, 'metric')).toBe(said)
  })
})
