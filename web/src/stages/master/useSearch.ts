import { useEffect, useState } from 'react'
import { Problem, type ProblemDocument } from '../../api/client'
import { sayProblem } from '../../parts/Say'

/** Follows a search on the server while it is wanted; leaving it cancels it there. One that breaks off is told, and ended. */
export function useSearch<T extends { finished: boolean }>(path: string | null, gather: (sofar: T | undefined, news: T) => T, onBroken: () => void): T | undefined {
  const [state, setState] = useState<{ path: string; found: T } | undefined>()
  useEffect(() => {
    if (!path) return
    const source = new EventSource(path)
    const broken = (p: Problem) => {
      source.close()
      sayProblem(p)
      onBroken()
    }
    source.addEventListener('progress', (e: MessageEvent<string>) => {
      const news = JSON.parse(e.data) as T
      setState((s) => ({ path, found: gather(s?.path === path ? s.found : undefined, news) }))
      if (news.finished) source.close()
    })
    source.addEventListener('problem', (e: MessageEvent<string>) => {
      const p = JSON.parse(e.data) as ProblemDocument
      broken(new Problem(p.title, p.detail ?? '', p.status))
    })
    source.onerror = () => broken(new Problem('The search broke off', 'The server cannot be reached. Nothing is lost; start it again.', 0))
    return () => source.close()
  }, [path]) // eslint-disable-line react-hooks/exhaustive-deps -- gather and onBroken are plain functions
  return state && state.path === path ? state.found : undefined
}
