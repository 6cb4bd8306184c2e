interface Hands<Q, A> {
  put: (question: Q, signal: AbortSignal) => Promise<A>
  told: (question: Q, answer: A) => void
  /** Waits until what was told is on the page: a machine that draws and asks at once does both more slowly. */
  drawn: () => Promise<void>
}

/**
 * Asks while a hand moves: one question is on its way at a time, and the newest
 * follows once the answer is drawn. A question that fails is passed over: the
 * next one, or what the hand leaves behind, asks again.
 */
export class Asker<Q, A> {
  readonly #hands: Hands<Q, A>
  #next: Q | null = null
  #going: AbortController | null = null

  constructor(hands: Hands<Q, A>) {
    this.#hands = hands
  }

  ask(question: Q) {
    this.#next = question
    if (!this.#going) void this.#go()
  }

  /** Forgets what was asked: nothing more is told. */
  drop() {
    this.#next = null
    this.#going?.abort()
    this.#going = null
  }

  async #go() {
    const question = this.#next
    if (question === null) return
    const mine = (this.#going = new AbortController())
    this.#next = null
    const answer = await this.#hands.put(question, mine.signal).catch(() => null)
    if (this.#going !== mine) return
    if (answer !== null) this.#hands.told(question, answer)
    await this.#hands.drawn()
    if (this.#going !== mine) return
    this.#going = null
    void this.#go()
  }
}
