import { useCallback, useEffect, useRef, type FormEvent } from 'react'

/** Measures that the server is reading right now. */
const reading = new Set<Promise<boolean>>()

/** Has whoever sends a form wait until a measure is read; it says whether it could be. */
export function pending(read: Promise<boolean>) {
  reading.add(read)
  void read.finally(() => reading.delete(read))
}

/** Sends a form once everything that was typed into it is read, with the values that came of it. */
export function useSettled(send: () => Promise<void> | void) {
  const latest = useRef(send)
  useEffect(() => {
    latest.current = send
  })
  return useCallback((e: FormEvent) => {
    e.preventDefault()
    void (async () => {
      await new Promise((go) => setTimeout(go)) // a field that is left right now begins to be read
      const read = await Promise.all(reading)
      if (read.includes(false)) return // it says so at the field
      await new Promise((go) => setTimeout(go)) // what was read is drawn
      await latest.current()
    })()
  }, [])
}
