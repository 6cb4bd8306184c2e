/** Whether the server answers, as the last question showed. */
export class Reach {
  #away: Date | null = null
  #heard: Date
  #told = new Set<() => void>()
  #page: string | null = null
  #newer = false

  constructor(now = new Date()) {
    this.#heard = now
  }

  /** Since when it does not answer; null while it does. */
  get away(): Date | null {
    return this.#away
  }

  /** Whether the server hands out another page by now than the one that is open. */
  get newer(): boolean {
    return this.#newer
  }

  /** Hears the name of the page that the server hands out. */
  page(name: string | null) {
    if (!name) return
    this.#page ??= name
    if (this.#page === name || this.#newer) return
    this.#newer = true
    this.#told.forEach((t) => t())
  }

  /** When it was last heard. */
  get heard(): Date {
    return this.#heard
  }

  answered(now = new Date()) {
    this.#heard = now
    if (this.#away) this.#set(null)
  }

  failed(now = new Date()) {
    this.#away ??= (this.#set(now), now)
  }

  /** Calls back whenever it goes or comes. */
  readonly watch = (told: () => void) => {
    this.#told.add(told)
    return () => void this.#told.delete(told)
  }

  #set(away: Date | null) {
    this.#away = away
    this.#told.forEach((t) => t())
  }
}

export const reach = new Reach()
