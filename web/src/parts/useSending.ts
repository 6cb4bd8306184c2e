import { useState } from 'react'
import { asProblem, type Problem } from '../api/client'

/** A form on its way: busy meanwhile, and what the server has against it stays beside it. */
export function useSending() {
  const [busy, setBusy] = useState(false)
  const [refused, setRefused] = useState<Problem | null>(null)
  async function sending(work: () => Promise<void>) {
    setBusy(true)
    setRefused(null)
    try {
      await work()
    } catch (thrown) {
      setRefused(asProblem(thrown))
    }
    setBusy(false)
  }
  return { busy, refused, sending }
}
