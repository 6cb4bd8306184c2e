import { client, ifMatch, type Design, type Job, type Problem } from '../api/client'
import { cupboard } from '../kept/cupboard'
import { changed, redone, undone, type Change, type History } from './history'
import { Keeper, type Kept, type Unkept } from './keeper'

/** A design as the server has it. */
export interface Served {
  design: Design
  version: number
}

/** What of a design outlasts the page. */
interface Saved {
  master: string
  version: number
  history: History
  unkept: Unkept<Design> | null
}

/** Names what a design is made for: with another master it begins afresh. */
export function masterKey(job: Job): string {
  const m = job.master
  return m?.mesh?.key ?? `measured ${m?.size.join(' ')} ${m?.volume.value}`
}

const mostAlive = 30_000 // bytes that a browser lets outlive the page, with room
const mostSaved = 30 // steps back that outlast the page

interface Hands {
  put: (draft: Design, version: number, key: string) => Promise<number>
  save: (saved: Saved) => void
  /** The server has what the page has. */
  kept: () => void
  refused: (problem: Problem) => void
}

interface State {
  history: History
  kept: Kept
}

/** A design that is worked on: what can be undone, and how far it is kept. It outlives the stages that show it. */
export class OpenDesign {
  readonly master: string
  readonly #keeper: Keeper<Design>
  readonly #hands: Hands
  readonly #watchers = new Set<() => void>()
  #state: State

  constructor(master: string, start: Served | Saved, hands: Hands) {
    this.master = master
    this.#hands = hands
    const left = 'history' in start ? start.unkept : null
    this.#keeper = new Keeper<Design>(
      start.version,
      {
        put: hands.put,
        told: (kept) => {
          this.#set({ ...this.#state, kept })
          if (kept.keeping === 'kept') hands.kept()
        },
        refused: hands.refused,
      },
      left ?? undefined,
    )
    const history = 'history' in start ? start.history : { past: [], design: start.design, future: [] }
    this.#state = { history, kept: this.#keeper.now }
    if (left) void this.#keeper.flush()
  }

  readonly watch = (told: () => void) => {
    this.#watchers.add(told)
    return () => void this.#watchers.delete(told)
  }

  readonly state = (): State => this.#state

  readonly change = (part: Change) => this.#go(changed(this.#state.history, part))
  readonly undo = () => this.#go(undone(this.#state.history))
  readonly redo = () => this.#go(redone(this.#state.history))
  readonly flush = () => this.#keeper.flush()

  /** Hears what the server has: newer than what is here, it is taken, unless something here is not kept yet. */
  heard(served: Served) {
    if (!this.#keeper.unkept && served.version > this.#state.kept.version) this.takeTheirs(served)
  }

  /** Goes on from what the server has. Undo brings back what was here. */
  takeTheirs(served: Served) {
    const { past, design } = this.#state.history
    this.#state = { ...this.#state, history: { past: [...past, design], design: served.design, future: [] } }
    this.#keeper.from(served.version)
  }

  /** Keeps what is here over what the server has. Undo brings that back. */
  keepMine(served: Served) {
    const mine = this.#state.history.design
    this.takeTheirs(served)
    this.change(mine)
  }

  #go(history: History | null) {
    if (!history) return
    this.#set({ ...this.#state, history })
    this.#keeper.change(history.design)
  }

  #set(state: State) {
    this.#state = state
    const { past, design, future } = state.history
    const history = { past: past.slice(-mostSaved), design, future: future.slice(0, mostSaved) }
    this.#hands.save({ master: this.master, version: state.kept.version, history, unkept: this.#keeper.unkept })
    this.#watchers.forEach((w) => w())
  }
}

const open = new Map<string, OpenDesign>()
const ears = { kept: new Set<() => void>(), refused: new Set<(p: Problem) => void>() }

/** Hears of designs that are kept, and of what the server has against one. */
export function hearDesigns(kept: () => void, refused: (p: Problem) => void) {
  ears.kept.add(kept)
  ears.refused.add(refused)
  return () => {
    ears.kept.delete(kept)
    ears.refused.delete(refused)
  }
}

export const served = async (jobId: string, signal?: AbortSignal): Promise<Served> =>
  (await client.GET('/jobs/{jobId}/design', { params: { path: { jobId } }, signal })).data!

/** The design of a job that is worked on already. */
export function live(jobId: string, master: string): OpenDesign | undefined {
  const there = open.get(jobId)
  return there?.master === master ? there : undefined
}

/** Opens a job's design: as it is worked on, as an earlier page left it, or as the server has it. */
export async function openDesign(jobId: string, master: string, signal: AbortSignal): Promise<OpenDesign> {
  const answer = await served(jobId, signal).catch((thrown: unknown) => thrown as Problem)
  const there = live(jobId, master)
  if ('design' in answer) there?.heard(answer)
  if (there) return there
  const saved = await cupboard.get<Saved>('designs', jobId)
  const fits = saved?.master === master && (saved.unkept !== null || !('design' in answer) || saved.version === answer.version)
  if (!fits && !('design' in answer)) throw answer
  const design = new OpenDesign(master, fits ? saved : (answer as Served), {
    put: async (body, from, key) => {
      const { data } = await client.PUT('/jobs/{jobId}/design', {
        params: { path: { jobId }, header: { ...ifMatch(from), 'Idempotency-Key': key } },
        body,
        keepalive: JSON.stringify(body).length < mostAlive,
      })
      return data!.version
    },
    save: (s) => void cupboard.put('designs', jobId, s),
    kept: () => ears.kept.forEach((e) => e()),
    refused: (p) => ears.refused.forEach((e) => e(p)),
  })
  open.set(jobId, design)
  return design
}

/** Keeps at once what waits: of one job, or of all when the page is left. */
export async function settle(jobId?: string) {
  await Promise.all([...open].filter(([id]) => jobId === undefined || id === jobId).map(([, d]) => d.flush()))
}
window.addEventListener('pagehide', () => void settle())
