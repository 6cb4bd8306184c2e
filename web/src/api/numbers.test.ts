import { describe, expect, it } from 'vitest'
import { whole } from './numbers'

const rows = [
  { value: 60, kind: 'volume' as const, formula: 'box', inputs: [] },
  {
    value: 40,
    kind: 'volume' as const,
    formula: 'box − part',
    inputs: [{ name: 'box', value: 60, kind: 'volume' as const, source: 'worked out', number: 0 }],
  },
]

describe('figures of a document', () => {
  it('stand where they are referred to, with what they came from', () => {
    const doc = whole({ numbers: rows, mould: { rubber: { n: 1 }, pours: [{ volume: { n: 1 } }, { volume: { n: 0 } }] }, name: 'hub' })
    expect(doc.mould.rubber.value).toBe(40)
    expect(doc.mould.rubber.inputs[0].number?.formula).toBe('box')
    expect(doc.mould.pours.map((p) => p.volume.value)).toEqual([40, 60])
    expect(doc.name).toBe('hub')
  })
  it('belong to the nearest document', () => {
    const doc = whole({ row: { numbers: rows, rubber: { n: 0 } }, finished: true })
    expect(doc.row.rubber.value).toBe(60)
    expect(doc.finished).toBe(true)
  })
  it('leave everything else as it is', () => {
    expect(whole({ at: [1, 2, 3], none: null, list: [{ a: 1 }], empty: [] })).toEqual({
      at: [1, 2, 3],
      none: null,
      list: [{ a: 1 }],
      empty: [],
    })
    expect(whole(7)).toBe(7)
  })
})
