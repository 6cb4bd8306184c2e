import { openDB, type IDBPDatabase } from 'idb'

const shelves = ['outbox', 'designs', 'forms'] as const
export type Shelf = (typeof shelves)[number]

/** Keeps things in the browser over a reload and a closed tab; where that is full or forbidden, as long as the page is open. */
export class Cupboard {
  /** Whether what is put here outlasts the page. */
  lasting = true
  readonly #name: string
  readonly #memory = new Map<string, unknown>()
  #db: Promise<IDBPDatabase | null> | undefined

  constructor(name: string) {
    this.#name = name
  }

  async get<T>(shelf: Shelf, key: string): Promise<T | undefined> {
    const own = this.#memory.get(`${shelf} ${key}`)
    if (own !== undefined) return own as T
    return (await this.#try((db) => db.get(shelf, key))) as T | undefined
  }

  async put(shelf: Shelf, key: string, value: unknown): Promise<void> {
    const kept = await this.#try(async (db) => {
      await db.put(shelf, value, key)
      return true
    })
    if (kept) this.#memory.delete(`${shelf} ${key}`)
    else this.#memory.set(`${shelf} ${key}`, value)
  }

  async remove(shelf: Shelf, key: string): Promise<void> {
    this.#memory.delete(`${shelf} ${key}`)
    await this.#try((db) => db.delete(shelf, key))
  }

  async all<T>(shelf: Shelf): Promise<T[]> {
    const kept = ((await this.#try((db) => db.getAll(shelf))) ?? []) as T[]
    const own = [...this.#memory].filter(([k]) => k.startsWith(`${shelf} `)).map(([, v]) => v as T)
    return [...kept, ...own]
  }

  async #try<T>(work: (db: IDBPDatabase) => Promise<T>): Promise<T | undefined> {
    try {
      this.#db ??= openDB(this.#name, 1, {
        upgrade: (db) => shelves.forEach((s) => db.createObjectStore(s)),
        terminated: () => (this.#db = undefined),
      })
      const db = await this.#db
      return db ? await work(db) : undefined
    } catch {
      this.lasting = false
      return undefined
    }
  }
}

/** What this browser keeps for the shop. */
export const cupboard = new Cupboard('bathyform')
