import { asProblem, type Problem } from '../api/client'

/** Whether what is on the page is what is in the database. */
export type Keeping = 'proposal' | 'kept' | 'keeping' | 'waiting' | 'conflict' | 'refused'

export interface Kept {
  keeping: Keeping
  /** Of what the server has. */
  version: number
}

interface Hands<T> {
  /** Keeps a draft that started from a version; answers with the new one. */
  put: (draft: T, version: number) => Promise<number>
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
  #unkept: T | null = null
  #busy = false
  #timer: ReturnType<typeof setTimeout> | undefined
  readonly #hands: Hands<T>

  constructor(version: number, hands: Hands<T>) {
    this.#now = { keeping: version === 0 ? 'proposal' : 'kept', version }
    this.#hands = hands
  }

  get now(): Kept {
    return this.#now
  }

  /** Takes a draft to be kept; after a conflict none is, until the newest is loaded. */
  change(draft: T): void {
    if (this.#now.keeping === 'conflict') return
    this.#unkept = draft
    this.#tell('keeping') // from now on what the server has is old
    this.#later(settleMs)
  }

  /** Keeps at once what still waits. */
  async flush(): Promise<void> {
    clearTimeout(this.#timer)
    if (this.#busy || this.#unkept === null || this.#now.keeping === 'conflict') return
    const mine = this.#unkept
    this.#busy = true
    this.#tell('keeping')
    try {
      const version = await this.#hands.put(mine, this.#now.version)
      if (this.#unkept === mine) this.#unkept = null
      this.#busy = false
      this.#tell(this.#unkept === null ? 'kept' : 'keeping', version)
      if (this.#unkept !== null) await this.flush()
    } catch (thrown) {
      this.#busy = false
      this.#failed(asProblem(thrown), mine)
    }
  }

  #failed(p: Problem, mine: T) {
    if (p.status === 412) {
      this.#tell('conflict')
    } else if (p.status === 0 || p.status >= 500) {
      this.#tell('waiting')
      this.#later(retryMs)
    } else {
      const newer = this.#unkept !== mine
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
