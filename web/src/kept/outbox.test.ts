import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem } from '../api/client'
import { Cupboard } from './cupboard'
import { Outbox, type Change, type Waiting } from './outbox'

let shelf = 0
beforeEach(() => {
  shelf++
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
})
afterEach(() => vi.useRealTimers())

const away = new Problem('The server does not answer', '', 0)
const starting = new Problem('The records are being opened again', '', 503)
const newer = new Problem('This was changed in another window', 'Load the newest', 412)

const pull = (n: number): Change => ({
  what: `Pull ${n}`,
  method: 'POST',
  path: '/moulds/{mouldId}/pulls',
  params: { mouldId: 'm' },
  body: n,
})

/** A server that takes every change once, unless it is told how to answer. */
function setUp(cupboard = new Cupboard(`test ${shelf}`)) {
  const taken: unknown[] = []
  const keys = new Set<string>()
  const answers: (Problem | 'lost' | 'taken')[] = []
  const told: string[] = []
  const outbox = new Outbox({
    cupboard,
    post: (c: Waiting) => {
      const answer = answers.shift() ?? 'taken'
      if (answer instanceof Problem) return Promise.reject(answer)
      if (!keys.has(c.key)) taken.push(c.body)
      keys.add(c.key)
      return answer === 'lost' ? Promise.reject(away) : Promise.resolve({ id: c.key })
    },
    sent: (c) => told.push(`sent ${c.what}`),
    refused: (c) => told.push(`refused ${c.what}`),
  })
  return { outbox, taken, answers, told, cupboard }
}

describe('the outbox', () => {
  it('sends at once and hands the answer back', async () => {
    const s = setUp()
    await expect(s.outbox.send(pull(1))).resolves.toMatchObject({ sent: true })
    expect(s.taken).toEqual([1])
    expect(s.outbox.list).toEqual([])
  })

  it('keeps what finds no answer, and sends it again in the order it was made', async () => {
    const s = setUp()
    s.answers.push(away, starting, 'lost')
    await expect(s.outbox.send(pull(1))).resolves.toEqual({ sent: false })
    await expect(s.outbox.send(pull(2))).resolves.toEqual({ sent: false })
    expect(s.outbox.list.map((w) => w.what)).toEqual(['Pull 1', 'Pull 2'])
    await s.outbox.flush()
    expect(s.taken).toEqual([1]) // its answer was lost: it waits, and so does the other
    expect(s.outbox.list).toHaveLength(2)
    await s.outbox.flush()
    expect(s.taken).toEqual([1, 2])
    expect(s.outbox.list).toEqual([])
    expect(s.told).toEqual(['sent Pull 1', 'sent Pull 2'])
  })

  it('keeps at once what is made while another is on its way', async () => {
    const s = setUp()
    s.answers.push(away, away)
    const both = [s.outbox.send(pull(1)), s.outbox.send(pull(2))]
    await vi.waitFor(async () => expect(await s.cupboard.all('outbox')).toHaveLength(2))
    await Promise.all(both)
    const next = setUp(s.cupboard) // the tab was closed and opened again
    await next.outbox.open()
    await vi.waitFor(() => expect(next.taken).toEqual([1, 2]))
  })

  it('hears the answer of a change that another tab sent meanwhile', async () => {
    const s = setUp()
    const mine = s.outbox.send(pull(1))
    await s.cupboard.all<Waiting>('outbox').then((all) => Promise.all(all.map((w) => s.cupboard.remove('outbox', w.key))))
    await expect(mine).resolves.toMatchObject({ sent: true })
    expect(s.taken).toEqual([1])
  })

  it('tries again by itself', async () => {
    const s = setUp()
    s.answers.push(away)
    await s.outbox.send(pull(1))
    vi.advanceTimersByTime(3000)
    vi.useRealTimers()
    await vi.waitFor(() => expect(s.taken).toEqual([1]))
  })

  it('gives what is refused at once back to its form, and keeps nothing of it', async () => {
    const s = setUp()
    s.answers.push(new Problem('The mould is retired', '', 409))
    await expect(s.outbox.send(pull(1))).rejects.toThrow('retired')
    expect(s.outbox.list).toEqual([])
  })

  it('holds what is refused later until a person decides, and sends what is behind it', async () => {
    const s = setUp()
    s.answers.push(away, away)
    await s.outbox.send(pull(1))
    await s.outbox.send(pull(2))
    s.answers.push(newer)
    await s.outbox.flush()
    expect(s.taken).toEqual([2])
    expect(s.outbox.list).toMatchObject([{ what: 'Pull 1', refused: { status: 412 } }])
    expect(s.told).toEqual(['refused Pull 1', 'sent Pull 2'])
    await s.outbox.flush()
    expect(s.outbox.list).toHaveLength(1)
    await s.outbox.again(s.outbox.list[0].key)
    expect(s.taken).toEqual([2, 1])
    expect(s.outbox.list).toEqual([])
  })

  it('gives up what a person discards', async () => {
    const s = setUp()
    s.answers.push(away)
    await s.outbox.send(pull(1))
    await s.outbox.discard(s.outbox.list[0].key)
    await s.outbox.flush()
    expect(s.taken).toEqual([])
  })

  it('takes for done what was to be struck and is gone', async () => {
    const s = setUp()
    const strike: Change = { what: 'Struck', method: 'DELETE', path: '/pulls/{pullId}' }
    s.answers.push('lost')
    await s.outbox.send(strike)
    s.answers.push(new Problem('That is not here any more', '', 404))
    await s.outbox.flush()
    expect(s.outbox.list).toEqual([])
  })

  it('outlasts the page', async () => {
    const s = setUp()
    s.answers.push(away)
    await s.outbox.send(pull(1))
    const next = setUp(new Cupboard(`test ${shelf}`))
    await next.outbox.open()
    await next.outbox.flush()
    expect(next.taken).toEqual([1])
  })

  it('holds on to changes where the browser keeps nothing', async () => {
    const forbidden = new Cupboard(`test ${shelf}`)
    vi.spyOn(indexedDB, 'open').mockImplementation(() => {
      throw new DOMException('forbidden', 'SecurityError')
    })
    const s = setUp(forbidden)
    s.answers.push(away)
    await s.outbox.send(pull(1))
    expect(forbidden.lasting).toBe(false)
    expect(s.outbox.list).toHaveLength(1)
    await s.outbox.flush()
    expect(s.taken).toEqual([1])
    expect(s.outbox.list).toEqual([])
    vi.restoreAllMocks()
  })
})
