import { asProblem, type Problem } from '../api/client'

/** Whether what is on the page is what is in the database. */
export type Keeping = 'proposal' | 'kept' | 'keeping' | 'waiting' | 'conflict' | 'refused'

export interface Kept {
  keeping: Keeping
  /** Of what the server has. */
  version: number
}

/** A draft under the key by which the server makes it once, however often and from whichever page it is sent. */
export interface Named<T> {
  draft: T
  key: string
}

/** What a keeper leaves behind when the page is closed in the middle of its work. */
export interface Unkept<T> extends Named<T> {
  /** Was sent, and its answer has not come. */
  sent: Named<T> | null
}

interface Hands<T> {
  /** Keeps a draft that started from a version, once under its key; answers with the new version. */
  put: (draft: T, version: number, key: string) => Promise<number>
  /** Told of every change of state. */
  told: (now: Kept) => void
  refused: (problem: Problem) => void
}

const settleMs = 350 // a pause after which a change is kept
const retryMs = 3000

/**
 * Keeps a draft in the database after a pause, one version after the other:
 * what comes while one is on its way goes next, an answer that stays out is
 * waited for, and nothing is kept over somebody else's change.
 */
export class Keeper<T> {
  #now: Kept
  #unkept: Named<T> | null = null
  #sent: Named<T> | null = null
  #busy = false
  #timer: ReturnType<typeof setTimeout> | undefined
  readonly #hands: Hands<T>

  /** A keeper of what has a version, going on with what an earlier one left. */
  constructor(version: number, hands: Hands<T>, left?: Unkept<T>) {
    this.#now = { keeping: version === 0 ? 'proposal' : 'kept', version }
    this.#hands = hands
    if (left) {
      this.#unkept = { draft: left.draft, key: left.key }
      this.#sent = left.sent
      this.#now = { keeping: 'keeping', version }
    }
  }

  get now(): Kept {
    return this.#now
  }

  /** What the server does not have yet; null where it has all. */
  get unkept(): Unkept<T> | null {
    return this.#unkept && { ...this.#unkept, sent: this.#sent }
  }

  /** Takes a draft to be kept; after a conflict none is, until a person has decided. */
  change(draft: T): void {
    if (this.#now.keeping === 'conflict') return
    this.#unkept = { draft, key: crypto.randomUUID() }
    this.#tell('keeping') // from now on what the server has is old
    this.#later(settleMs)
  }

  /** Goes on from a version that somebody else made, or from one that was taken in place of the own. */
  from(version: number): void {
    clearTimeout(this.#timer)
    this.#unkept = this.#sent = null
    this.#tell('kept', version)
  }

  /** Keeps at once what still waits. */
  async flush(): Promise<void> {
    clearTimeout(this.#timer)
    if (this.#busy || this.#unkept === null || this.#now.keeping === 'conflict') return
    // what was sent before may have been kept, though the answer was lost: it goes first, under its key
    const mine = (this.#sent ??= this.#unkept)
    this.#busy = true
    this.#tell('keeping')
    try {
      const version = await this.#hands.put(mine.draft, this.#now.version, mine.key)
      this.#busy = false
      if (this.#sent !== mine) return // another version was taken in its place meanwhile
      this.#sent = null
      if (this.#unkept?.key === mine.key) this.#unkept = null
      this.#tell(this.#unkept === null ? 'kept' : 'keeping', version)
      if (this.#unkept !== null) await this.flush()
    } catch (thrown) {
      this.#busy = false
      if (this.#sent === mine) this.#failed(asProblem(thrown), mine)
    }
  }

  #failed(p: Problem, mine: Named<T>) {
    if (p.status === 412) {
      this.#sent = null
      this.#tell('conflict')
    } else if (p.status === 0 || p.status >= 500) {
      this.#tell('waiting')
      this.#later(retryMs)
    } else {
      this.#sent = null
      const newer = this.#unkept?.key !== mine.key
      if (!newer) this.#unkept = null
      this.#tell(newer ? 'keeping' : 'refused')
      this.#hands.refused(p)
      if (newer) void this.flush() // the next change may mend it
    }
  }

  #later(ms: number) {
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.flush(), ms)
  }

  #tell(keeping: Keeping, version = this.#now.version) {
    this.#now = { keeping, version }
    this.#hands.told(this.#now)
  }
}
