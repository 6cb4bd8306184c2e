import { useState } from 'react'
import { flushSync } from 'react-dom'

/** Prints a list whole, however little of it is shown: all of it is fetched, shown for as long as it prints, and let go. */
export function usePrinted<T>(total: number, fetch: (skip: number) => Promise<T[]>) {
  const [printed, setPrinted] = useState<T[] | null>(null)
  async function print() {
    try {
      const all: T[] = []
      while (all.length < total) {
        const some = await fetch(all.length)
        if (some.length === 0) break
        all.push(...some)
      }
      flushSync(() => setPrinted(all))
      window.print()
    } finally {
      setPrinted(null)
    }
  }
  return { printed, print }
}
