import { useEffect, useState } from 'react'
import { NavigationType, useLocation, useNavigationType, useSearchParams } from 'react-router'

const restMs = 400 // browsers do not like an address that changes with every move

/** What was looked at last, by job: a stage that is come back to shows it again. */
const last = new Map<string, string>()

/**
 * How something is looked at: in the address, so that it can be sent and
 * reloaded, and kept while other stages are open. Null where it is left as it
 * comes.
 */
export function useAddressed(of: string, name: string): [string | null, (value: string | null) => void] {
  const [address, write] = useSearchParams()
  const { pathname } = useLocation()
  const arrival = useNavigationType()
  const key = `${of} ${name}`
  const there = address.get(name)
  const [value, setValue] = useState(there ?? last.get(key) ?? null)
  const [seen, setSeen] = useState(there)
  if (there !== seen) {
    setSeen(there)
    // The way back, or a link. What was written here comes back late, and a hand may have gone on by then.
    if (there !== null && arrival !== NavigationType.Replace) setValue(there)
  }
  useEffect(() => {
    if (value === null) last.delete(key)
    else last.set(key, value)
    const timer = setTimeout(() => {
      if (window.location.pathname !== pathname) return // somebody is on the way elsewhere
      const next = new URLSearchParams(window.location.search) // another part of the page may have written just now
      if (next.get(name) === value) return
      if (value === null) next.delete(name)
      else next.set(name, value)
      void write(next, { replace: true })
    }, restMs)
    return () => clearTimeout(timer)
  }, [value, key, name, pathname]) // eslint-disable-line react-hooks/exhaustive-deps -- write is new with every address
  return [value, setValue]
}
