import { describe, expect, it } from 'vitest'
import type { Design } from '../api/client'
import { changed, redone, undone, type History } from './history'

const vent = (x: number) => ({ at: [x, 0, 0] as [number, number, number], bore: 2 })
const start: History = { past: [], design: { vents: [vent(1)], sprueBore: 8 } as unknown as Design, future: [] }

describe('the history of a design', () => {
  it('loses neither of two changes that were begun at the same time', () => {
    const vented = changed(start, (now) => ({ vents: [...now.vents, vent(2)] }))
    const bored = changed(vented, { sprueBore: 10 }) // an answer that came late
    expect(bored.design.vents).toHaveLength(2)
    expect(bored.design.sprueBore).toBe(10)
  })
  it('goes back and forth in single steps', () => {
    const twice = changed(changed(start, { sprueBore: 9 }), { sprueBore: 10 })
    const back = undone(twice)!
    expect(back.design.sprueBore).toBe(9)
    expect(undone(back)!.design.sprueBore).toBe(8)
    expect(undone(undone(back)!)).toBeNull()
    expect(redone(back)!.design.sprueBore).toBe(10)
    expect(redone(redone(back)!)).toBeNull()
  })
  it('forgets what was undone when something else is changed', () => {
    const other = changed(undone(changed(start, { sprueBore: 9 }))!, { sprueBore: 7 })
    expect(redone(other)).toBeNull()
  })
})
