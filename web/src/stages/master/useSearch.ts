import { useEffect, useState } from 'react'

/** Follows a search on the server while it is wanted; leaving it cancels it there. */
export function useSearch<T extends { finished: boolean }>(path: string | null, gather: (sofar: T | undefined, news: T) => T): T | undefined {
  const [state, setState] = useState<{ path: string; found: T } | undefined>()
  useEffect(() => {
    if (!path) return
    const source = new EventSource(path)
    source.addEventListener('progress', (e: MessageEvent<string>) => {
      const news = JSON.parse(e.data) as T
      setState((s) => ({ path, found: gather(s?.path === path ? s.found : undefined, news) }))
      if (news.finished) source.close()
    })
    source.onerror = () => source.close() // what was found so far stays
    return () => source.close()
  }, [path]) // eslint-disable-line react-hooks/exhaustive-deps -- gather is a plain function
  return state && state.path === path ? state.found : undefined
}
