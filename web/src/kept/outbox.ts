import { asProblem, Problem } from '../api/client'
import type { Cupboard } from './cupboard'

/** A change on its way to the server. */
export interface Change {
  /** What it is, in words for a list. */
  what: string
  method: 'POST' | 'PUT' | 'DELETE'
  /** Of the contract, as '/moulds/{mouldId}/pulls'. */
  path: string
  params?: Record<string, string>
  /** The version that it starts from. */
  version?: number
  body?: unknown
}

/** A change that is kept until the server has taken it. */
export interface Waiting extends Change {
  /** Names the change: the server makes it once, however often it is sent. */
  key: string
  /** Orders the changes. */
  made: number
  /** Why the server does not take it; then it waits for a person. */
  refused?: { title: string; detail: string; status: number }
}

/** A change was sent, with the server's answer, or waits for the server. */
export type Outcome = { sent: true; data: unknown } | { sent: false }

interface Hands {
  cupboard: Cupboard
  /** Sends a change; throws what the server says against it. */
  post: (change: Waiting) => Promise<unknown>
  /** A change that had waited was sent. */
  sent: (change: Waiting) => void
  /** A change that had waited was refused. */
  refused: (change: Waiting) => void
}

const retryMs = 3000

/**
 * Sends changes one after the other, in the order they were made. What finds
 * no answer is kept, over a reload and a closed tab, and sent again; what the
 * server refuses later waits for a person. Nothing is dropped by itself.
 */
export class Outbox {
  #list: readonly Waiting[] = []
  #timer: ReturnType<typeof setTimeout> | undefined
  #queue: Promise<unknown> = Promise.resolve()
  #last = 0
  /** Made in this tab, and not yet at their turn. */
  readonly #ahead = new Set<string>()
  readonly #watchers = new Set<() => void>()
  readonly #hands: Hands

  constructor(hands: Hands) {
    this.#hands = hands
  }

  /** What waits, the oldest first. */
  get list(): readonly Waiting[] {
    return this.#list
  }

  readonly watch = (told: () => void) => {
    this.#watchers.add(told)
    return () => void this.#watchers.delete(told)
  }

  /** Takes up what an earlier page left, and sends it. */
  async open(): Promise<void> {
    await this.#read()
    if (this.#list.length > 0) void this.flush()
  }

  /** Sends a change. It rejects with what the server says against it. */
  send(change: Change): Promise<Outcome> {
    this.#last = Math.max(Date.now(), this.#last + 1)
    const mine: Waiting = { ...change, key: crypto.randomUUID(), made: this.#last }
    // Kept at once: the tab may be closed while the one before is still on its way.
    const kept = this.#hands.cupboard.put('outbox', mine.key, mine)
    kept.catch(() => undefined) // told at its turn
    this.#ahead.add(mine.key)
    return this.#inTurn(async () => {
      this.#ahead.delete(mine.key)
      await kept
      await this.#read()
      if (!this.#list.some((w) => w.key === mine.key)) {
        return { sent: true, data: await this.#hands.post(mine) } // another tab was sooner; the server answers as it did then
      }
      let outcome: Outcome = { sent: false }
      await this.#sendAll(async (next) => {
        try {
          const data = await this.#hands.post(next)
          if (next.key === mine.key) outcome = { sent: true, data }
          else this.#hands.sent(next)
        } catch (thrown) {
          if (next.key === mine.key && isRefusal(thrown)) {
            await this.#drop(next.key) // it is still in the form that it came from
          }
          throw thrown
        }
      }, mine.key)
      return outcome
    })
  }

  /** Tries again what waits. */
  flush(): Promise<void> {
    return this.#inTurn(async () => {
      await this.#read()
      await this.#sendAll(async (next) => {
        await this.#hands.post(next)
        this.#hands.sent(next)
      })
    })
  }

  /** Gives a change up that the server does not take. */
  discard(key: string): Promise<void> {
    return this.#inTurn(() => this.#drop(key))
  }

  /** Sends a change again that was refused, as it is or put right. */
  again(key: string, put: Partial<Change> = {}): Promise<void> {
    return this.#inTurn(async () => {
      const old = this.#list.find((w) => w.key === key)
      if (!old) return
      await this.#hands.cupboard.put('outbox', key, { ...old, ...put, refused: undefined })
    }).then(() => this.flush())
  }

  async #sendAll(send: (next: Waiting) => Promise<void>, mine?: string) {
    clearTimeout(this.#timer)
    for (const next of this.#list.filter((w) => !w.refused && !this.#ahead.has(w.key))) {
      try {
        await send(next)
        await this.#drop(next.key)
      } catch (thrown) {
        if (!isRefusal(thrown)) {
          this.#timer = setTimeout(() => void this.flush(), retryMs)
          return // the ones behind it wait for it
        }
        if (next.key === mine) throw thrown
        const p = asProblem(thrown)
        if (p.status === 404 && next.method === 'DELETE') {
          await this.#drop(next.key) // it is gone already
          continue
        }
        const refused = { ...next, refused: { title: p.title, detail: p.detail, status: p.status } }
        await this.#hands.cupboard.put('outbox', next.key, refused)
        await this.#read()
        this.#hands.refused(refused)
      }
    }
  }

  async #drop(key: string) {
    await this.#hands.cupboard.remove('outbox', key)
    await this.#read()
  }

  async #read() {
    const all = await this.#hands.cupboard.all<Waiting>('outbox')
    this.#list = all.sort((a, b) => a.made - b.made)
    this.#watchers.forEach((w) => w())
  }

  /** One at a time, in this tab and among the others. */
  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const locks = (globalThis.navigator as Navigator | undefined)?.locks as LockManager | undefined
    const mine = this.#queue.then(() => (locks ? (locks.request('bathyform outbox', work) as Promise<T>) : work()))
    this.#queue = mine.catch(() => undefined)
    return mine
  }
}

/** Whether the server has looked at it and says no: everything else may go well later. */
function isRefusal(thrown: unknown): boolean {
  const { status } = thrown instanceof Problem ? thrown : asProblem(thrown)
  return status >= 400 && status < 500 && status !== 408 && status !== 429
}
