import { describe, expect, it } from 'vitest'
import { moment } from './BuildPanel'
import { hash, kindNames } from './useBuild'

describe('the address of a search', () => {
  it('changes with whatever the search depends on', () => {
    const design = { draw: '+z', vents: [{ at: [1, 2, 3], bore: 2 }] }
    const seen = new Set([hash(JSON.stringify(design))])
    for (let i = 0; i < 2000; i++) seen.add(hash(JSON.stringify({ ...design, parting: i / 10 })))
    expect(seen.size).toBe(2001)
  })

  it('is short and fit for an address, however long the design', () => {
    const name = hash('a horn of the cleat, '.repeat(5000))
    expect(name).toMatch(/^[a-z0-9]+$/)
    expect(name.length).toBeLessThan(16)
    expect(hash('same')).toBe(hash('same'))
  })
})

describe('a moment of the plan', () => {
  it('names the day, so that a cure over the weekend is seen', () => {
    expect(moment('2026-11-27T09:05:00')).toBe('Fri 27 Nov 09:05')
    expect(moment('2026-11-30T16:40:00')).toMatch(/^Mon 30 Nov/)
  })
})

describe('kinds of mould', () => {
  it('each have a name of their own', () => {
    const names = Object.values(kindNames)
    expect(new Set(names).size).toBe(names.length)
    expect(kindNames['three-piece']).toBe('three pieces and more')
  })
})
