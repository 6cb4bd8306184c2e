import { useEffect, useState } from 'react'

/** Looks at a clock four times a second; what it says is worked out anew then. */
export function useTick(now: () => number): number {
  const [at, setAt] = useState(now)
  useEffect(() => {
    const timer = window.setInterval(() => setAt(now()), 250)
    return () => window.clearInterval(timer)
  }, [now])
  return at
}

/** s as a clock shows them: 2:05, 1:02:05. */
export function clock(seconds: number): string {
  const s = Math.max(0, Math.ceil(seconds))
  const two = (n: number) => String(n).padStart(2, '0')
  const hours = Math.floor(s / 3600)
  const minutes = Math.floor((s % 3600) / 60)
  return hours > 0 ? `${hours}:${two(minutes)}:${two(s % 60)}` : `${minutes}:${two(s % 60)}`
}
