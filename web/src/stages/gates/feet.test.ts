import { describe, expect, it } from 'vitest'
import type { Design, Study } from '../../api/client'
import { brought, carried } from '../../parts/axes'
import { feetOf, ledTo } from './feet'

const turned = [0, -1, 0, 50, 1, 0, 0, 7, 0, 0, 1, 3] // a quarter turn about z, and moved
const design = { vents: [{ at: [1, 2, 3], bore: 2 }] } as unknown as Design
const channel = (kind: string, cavity: number, ...path: number[][]) => ({ kind, cavity, path, bore: 4 })
const study = {
  mould: { places: [[1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], turned] },
  gates: {
    channels: [
      channel('sprue', -1, [20, 0, 40], [20, 0, 5]),
      channel('runner', -1, [20, 0, 5], [0, 0, 5]),
      channel('gate', 1, [50, 0, 5], [50, 0, 10]),
    ],
  },
} as unknown as Study

describe('a hand on the channels', () => {
  it('carries a place into a cavity and brings it back', () => {
    expect(carried(turned, [1, 2, 3])).toEqual([48, 8, 6])
    expect(brought(turned, [48, 8, 6])).toEqual([1, 2, 3])
  })

  it('leads a vent in every cavity as one of the master, a gate where the master has it, the sprue in the box', () => {
    const told: Partial<Design>[] = []
    const feet = feetOf(design, study, (change) => told.push(change))
    expect(feet.map((f) => f.name)).toEqual([
      'Foot of vent 1 of cavity 1',
      'Foot of vent 1 of cavity 2',
      'Gate of cavity 2',
      'Sprue',
      'Runner 1',
    ])
    expect(feet[1].at).toEqual([48, 8, 6])
    feet[1].onMove([48, 9, 6], false)
    feet[2].onMove([50, 0, 10], true)
    feet[3].onMove([25, 0, 40], true)
    feet[4].onMove([12, 0, 5], true)
    expect(told[0].vents![0].at).toEqual([2, 2, 3])
    expect(told[1].foot).toEqual([-7, 0, 7])
    expect(told[2].shaft).toEqual([25, 0, 40])
    expect(told[3].shaft).toEqual([22, 0, 40])
    feet[0].onRemove!()
    expect(told[4].vents).toEqual([])
  })

  it('says what a drag in the view changes', () => {
    expect(ledTo(design, { kind: 'vent', vent: 0 }, [9, 9, 9]).vents![0].at).toEqual([9, 9, 9])
    expect(ledTo(design, { kind: 'gate', vent: -1 }, [9, 9, 9])).toEqual({ foot: [9, 9, 9] })
    expect(ledTo(design, { kind: 'sprue', vent: -1 }, [9, 9, 9])).toEqual({ shaft: [9, 9, 9] })
  })
})
