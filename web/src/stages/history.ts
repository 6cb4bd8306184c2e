import type { Design } from '../api/client'

/** What of a design changes, or how that follows from the design as it is when the change comes. */
export type Change = Partial<Design> | ((now: Design) => Partial<Design>)

/** A design with what can be undone and done again. */
export interface History {
  past: Design[]
  design: Design
  future: Design[]
}

const mostPast = 100

export function changed({ past, design }: History, change: Change): History {
  const part = typeof change === 'function' ? change(design) : change
  return { past: [...past, design].slice(-mostPast), design: { ...design, ...part }, future: [] }
}

/** One step back; null where there is none. */
export function undone({ past, design, future }: History): History | null {
  const last = past.at(-1)
  return last ? { past: past.slice(0, -1), design: last, future: [design, ...future] } : null
}

/** One step forward again; null where there is none. */
export function redone({ past, design, future }: History): History | null {
  const next = future[0]
  return next ? { past: [...past, design], design: next, future: future.slice(1) } : null
}
