import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem } from '../api/client'
import { Keeper, type Keeping } from './keeper'

beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())

/** A server that keeps drafts one version after the other, unless it is told how to answer. */
function setUp(version = 3) {
  const kept: { draft: string; from: number }[] = []
  const answers: (Problem | 'late')[] = []
  const late: (() => void)[] = []
  const states: Keeping[] = []
  const refused: string[] = []
  const keeper = new Keeper<string>(version, {
    put: async (draft, from) => {
      const answer = answers.shift()
      if (answer instanceof Problem) throw answer
      if (answer === 'late') await new Promise<void>((go) => late.push(go))
      kept.push({ draft, from })
      return from + 1
    },
    told: (now) => states.push(now.keeping),
    refused: (p) => refused.push(p.title),
  })
  return { keeper, kept, answers, late, states, refused }
}

describe('keeping a design', () => {
  it('sends what may have been kept once more under its key before anything newer', async () => {
    const keys: string[] = []
    let lose = true
    const keeper = new Keeper<string>(3, {
      put: (draft, from, key) => {
        keys.push(`${draft} ${from} ${key}`)
        if (lose) return Promise.reject(new Problem('away', '', 0))
        return Promise.resolve(from + 1)
      },
      told: () => undefined,
      refused: () => undefined,
    })
    keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    keeper.change('b')
    lose = false
    await vi.advanceTimersByTimeAsync(4000)
    expect(keys[1]).toBe(keys[0])
    expect(keys[2]).toMatch(/^b 4 /)
    expect(keeper.now).toEqual({ keeping: 'kept', version: 5 })
    expect(keeper.unkept).toBeNull()
  })

  it('goes on with what a closed page left', async () => {
    const s = setUp()
    s.answers.push(new Problem('away', '', 0))
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    const left = s.keeper.unkept!
    expect(left).toMatchObject({ draft: 'a', sent: { draft: 'a' } })
    const keys: string[] = []
    const next = new Keeper<string>(
      3,
      { put: (_, from, key) => (keys.push(key), Promise.resolve(from + 1)), told: () => undefined, refused: () => undefined },
      left,
    )
    expect(next.now.keeping).toBe('keeping')
    await next.flush()
    expect(keys).toEqual([left.sent!.key])
    expect(next.now).toEqual({ keeping: 'kept', version: 4 })
  })

  it('sends again under its key what a page sent as it closed, and could not note as sent', async () => {
    const keys: string[] = []
    const hands = {
      put: (_: string, from: number, key: string) => (keys.push(key), Promise.resolve(from + 1)),
      told: () => undefined,
      refused: () => undefined,
    }
    const closing = new Keeper<string>(3, hands)
    closing.change('a')
    const noted = closing.unkept!
    await closing.flush()
    await new Keeper<string>(3, hands, noted).flush()
    expect(keys).toEqual([noted.key, noted.key])
  })

  it('takes up again after a conflict, from the version that a person chose', async () => {
    const s = setUp()
    s.answers.push(new Problem('changed', '', 412))
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    s.keeper.from(9)
    expect(s.keeper.now).toEqual({ keeping: 'kept', version: 9 })
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.kept).toEqual([{ draft: 'a', from: 9 }])
  })

  it('is a proposal until something is changed', () => {
    expect(setUp(0).keeper.now).toEqual({ keeping: 'proposal', version: 0 })
    expect(setUp(4).keeper.now).toEqual({ keeping: 'kept', version: 4 })
  })

  it('waits for the hand to rest and keeps the last of quick changes', async () => {
    const s = setUp()
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(200)
    s.keeper.change('b')
    await vi.advanceTimersByTimeAsync(200)
    expect(s.kept).toEqual([])
    expect(s.keeper.now.keeping).toBe('keeping')
    await vi.advanceTimersByTimeAsync(200)
    expect(s.kept).toEqual([{ draft: 'b', from: 3 }])
    expect(s.keeper.now).toEqual({ keeping: 'kept', version: 4 })
  })

  it('keeps what comes while another is on its way, from the version that left', async () => {
    const s = setUp()
    s.answers.push('late')
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    s.keeper.change('b')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.kept).toEqual([])
    s.late[0]()
    await vi.runAllTimersAsync()
    expect(s.kept).toEqual([
      { draft: 'a', from: 3 },
      { draft: 'b', from: 4 },
    ])
    expect(s.keeper.now).toEqual({ keeping: 'kept', version: 5 })
  })

  it('tries again while the server does not answer, and loses nothing', async () => {
    const s = setUp()
    s.answers.push(new Problem('away', '', 0), new Problem('broken', '', 503))
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.keeper.now.keeping).toBe('waiting')
    await vi.advanceTimersByTimeAsync(3000)
    expect(s.keeper.now.keeping).toBe('waiting')
    await vi.advanceTimersByTimeAsync(3000)
    expect(s.kept).toEqual([{ draft: 'a', from: 3 }])
    expect(s.keeper.now.keeping).toBe('kept')
  })

  it('overwrites nobody: after a conflict nothing is kept any more', async () => {
    const s = setUp()
    s.answers.push(new Problem('changed', '', 412))
    s.keeper.change('a')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.keeper.now.keeping).toBe('conflict')
    s.keeper.change('b')
    await s.keeper.flush()
    await vi.runAllTimersAsync()
    expect(s.kept).toEqual([])
    expect(s.keeper.now).toEqual({ keeping: 'conflict', version: 3 })
  })

  it('says what was refused, and keeps the change that mends it', async () => {
    const s = setUp()
    s.answers.push(new Problem('no room', '', 422))
    s.keeper.change('too small')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.refused).toEqual(['no room'])
    expect(s.keeper.now.keeping).toBe('refused')
    s.keeper.change('large enough')
    await vi.advanceTimersByTimeAsync(400)
    expect(s.kept).toEqual([{ draft: 'large enough', from: 3 }])
  })

  it('goes on with a newer change when the older is refused on its way', async () => {
    const s = setUp()
    let refuse: (p: Problem) => void = () => undefined
    const kept: string[] = []
    const keeper = new Keeper<string>(1, {
      put: (draft, from) =>
        draft === 'bad' ? new Promise<number>((_, no) => (refuse = no)) : (kept.push(draft), Promise.resolve(from + 1)),
      told: () => undefined,
      refused: (p) => s.refused.push(p.title),
    })
    keeper.change('bad')
    await vi.advanceTimersByTimeAsync(400)
    keeper.change('good')
    refuse(new Problem('no room', '', 422))
    await vi.runAllTimersAsync()
    expect(kept).toEqual(['good'])
    expect(keeper.now).toEqual({ keeping: 'kept', version: 2 })
  })

  it('keeps at once what waits when the page is left', async () => {
    const s = setUp()
    s.keeper.change('a')
    await s.keeper.flush()
    expect(s.kept).toEqual([{ draft: 'a', from: 3 }])
    await vi.runAllTimersAsync()
    expect(s.kept).toHaveLength(1)
  })
})
