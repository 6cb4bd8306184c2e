import { useCallback, useEffect, useRef, useState } from 'react'

const prefix = 'bathyform form '
const memory = new Map<string, string>() // where the browser keeps nothing

function read<T>(name: string): T | null {
  try {
    const text = memory.get(name) ?? localStorage.getItem(prefix + name)
    return text === null ? null : (JSON.parse(text) as T)
  } catch {
    return null
  }
}

function write(name: string, value: unknown) {
  const text = JSON.stringify(value)
  memory.set(name, text)
  try {
    localStorage.setItem(prefix + name, text)
  } catch {
    // full or forbidden: the page holds it as long as it is open
  }
}

function drop(name: string) {
  memory.delete(name)
  try {
    localStorage.removeItem(prefix + name)
  } catch {
    // nothing was kept
  }
}

/**
 * What is typed into a form, kept until it is sent: a closed dialog, another
 * stage, a reload or a closed tab lose none of it. Current is what is typed by
 * now, drawn or not.
 */
export function useKept<T extends object>(name: string, fresh: T) {
  const [draft, setDraft] = useState<{ of: string; typed: Partial<T> }>(() => ({ of: name, typed: read<Partial<T>>(name) ?? {} }))
  const typed = draft.of === name ? draft.typed : (read<Partial<T>>(name) ?? {})
  const start = useRef(fresh)
  useEffect(() => {
    start.current = fresh
  })
  const now = useRef({ of: name, typed })
  const current = useCallback((): T => {
    if (now.current.of !== name) now.current = { of: name, typed: read<Partial<T>>(name) ?? {} }
    return { ...start.current, ...now.current.typed }
  }, [name])
  const put = useCallback(
    (part: Partial<T> | ((now: T) => Partial<T>)) => {
      const all = current()
      now.current = { of: name, typed: { ...now.current.typed, ...(typeof part === 'function' ? part(all) : part) } }
      write(name, now.current.typed)
      setDraft(now.current)
    },
    [name, current],
  )
  const clear = useCallback(() => {
    drop(name)
    now.current = { of: name, typed: {} }
    setDraft(now.current)
  }, [name])
  return { value: { ...fresh, ...typed }, current, put, clear, left: Object.keys(typed).length > 0 }
}
