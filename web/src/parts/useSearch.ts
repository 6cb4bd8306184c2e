import { useQuery, useQueryClient } from '@tanstack/react-query'
import { asProblem, Problem, type ProblemDocument } from '../api/client'
import { whole } from '../api/numbers'

export interface Search<T> {
  /** What was found so far. */
  found: T | undefined
  /** Why it ended without having finished. */
  broken: Problem | null
  again: () => void
}

/**
 * Follows a search on the server while it is wanted; leaving it cancels it
 * there. An address stands for one question: asked again it is answered from
 * what was found.
 */
export function useSearch<T extends { finished: boolean }>(
  path: string | null,
  gather: (sofar: T | undefined, news: T) => T = (_, news) => news,
): Search<T> {
  const queries = useQueryClient()
  const sofar = ['search so far', path]
  const search = useQuery({
    queryKey: ['search', path],
    enabled: path !== null,
    staleTime: Infinity,
    gcTime: 5 * 60_000,
    retry: false,
    queryFn: ({ signal }) => {
      queries.removeQueries({ queryKey: sofar })
      return follow<T>(path!, signal, (news) => {
        const next = gather(queries.getQueryData<T>(sofar), news)
        queries.setQueryData(sofar, next)
        return next
      })
    },
  })
  const progress = useQuery<T>({ queryKey: sofar, enabled: false, queryFn: () => Promise.reject(new Error('never asked')) })
  if (path === null) return { found: undefined, broken: null, again: () => undefined }
  return { found: search.data ?? progress.data, broken: search.error ? asProblem(search.error) : null, again: () => void search.refetch() }
}

function follow<T extends { finished: boolean }>(path: string, signal: AbortSignal, hear: (news: T) => T): Promise<T> {
  return new Promise((resolve, reject) => {
    const source = new EventSource(path)
    const close = () => {
      source.close()
      window.removeEventListener('pagehide', leave)
    }
    const end = (p: Problem) => {
      close()
      reject(p)
    }
    // a page that the browser puts by to go back to keeps no line: it has few of them
    const leave = () => end(new Problem('The search broke off', 'This page was left meanwhile. Start it again.', 0))
    window.addEventListener('pagehide', leave)
    signal.addEventListener('abort', () => end(new Problem('Left', '', 0)))
    source.addEventListener('progress', (e: MessageEvent<string>) => {
      const news = hear(whole(JSON.parse(e.data) as T) as T)
      if (!news.finished) return
      close()
      resolve(news)
    })
    source.addEventListener('problem', (e: MessageEvent<string>) => {
      const p = JSON.parse(e.data) as ProblemDocument
      end(new Problem(p.title, p.detail ?? '', p.status))
    })
    source.onerror = () => end(new Problem('The search broke off', 'The server cannot be reached. Nothing is lost; start it again.', 0))
  })
}
