import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'

const most = 100

/** The first of a long list, and more when asked for; printed, it is shown whole. */
export function useSome<T>(all: T[]) {
  const [count, setCount] = useState(most)
  useEffect(() => {
    const whole = () => flushSync(() => setCount(Infinity))
    const some = () => setCount(most)
    window.addEventListener('beforeprint', whole)
    window.addEventListener('afterprint', some)
    return () => {
      window.removeEventListener('beforeprint', whole)
      window.removeEventListener('afterprint', some)
    }
  }, [])
  return { some: all.slice(0, count), left: Math.max(0, all.length - count), showMore: () => setCount(count + most) }
}
