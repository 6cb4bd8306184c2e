import { describe, expect, it } from 'vitest'
import { along, axes, cross, dir, dot, levelAxes, opposite, span } from './axes'
import { spread } from './Rail'

describe('ways along the axes', () => {
  it('come in opposite pairs of unit length', () => {
    for (const a of axes) {
      expect(dot(dir(a), dir(a))).toBe(1)
      expect(dot(dir(a), dir(opposite(a)))).toBe(-1)
      expect(along(a, opposite(a))).toBe(true)
    }
  })

  it('leave two level ways across any up', () => {
    for (const up of axes) {
      const [first, second] = levelAxes(up)
      expect(dot(dir(first), dir(up))).toBeCloseTo(0)
      expect(dot(dir(second), dir(up))).toBeCloseTo(0)
      expect(along(first, second)).toBe(false)
    }
  })

  it('show a section as seen looking along its normal, up being up', () => {
    // looking along +y with z up, x runs to the right
    expect(cross(dir('+y'), dir('+z'))).toEqual([1, 0, 0])
  })

  it('measure a box along any way, lowest first', () => {
    expect(span([1, 2, 3], [11, 22, 33], dir('+z'))).toEqual([3, 33])
    expect(span([1, 2, 3], [11, 22, 33], dir('-z'))).toEqual([-33, -3])
  })
})

describe('labels on the rail', () => {
  it('stay where they are when there is room', () => {
    expect(spread([10, 40, 80], 15)).toEqual([10, 40, 80])
  })

  it('move apart when they would cover one another, keeping their order', () => {
    expect(spread([50, 10, 12, 51], 15)).toEqual([50, 10, 25, 65])
  })

  it('can be none', () => {
    expect(spread([], 15)).toEqual([])
  })
})
