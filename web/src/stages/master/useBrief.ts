import { useEffect, useRef } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { api, asProblem, type Brief, type Job, type Problem } from '../../api/client'
import { changes, hear, make } from '../../kept/changes'
import type { PanelProps } from './look'

/** Changes what is said of the master and keeps it, one change after the other, each from what the one before it left. */
export function useBrief({ job, refresh }: Pick<PanelProps, 'job' | 'refresh'>, refuse: (problem: Problem | null) => void) {
  const queries = useQueryClient()
  const newest = useRef<Job>(job)
  const queue = useRef<Promise<unknown>>(Promise.resolve())
  const known = useRef(job)
  useEffect(() => {
    known.current = job
    if (job.id !== newest.current.id || job.version > newest.current.version) newest.current = job
  }, [job])
  // what was refused later is not what the page can go on from
  useEffect(() => hear('refused', () => void (newest.current = known.current)), [])
  return (change: (brief: Brief) => Partial<Brief>) => {
    queue.current = queue.current.then(async () => {
      const now = newest.current
      refuse(null)
      const brief = { ...now.brief, ...change(now.brief) }
      try {
        const outcome = await make(changes.keepBrief(now, brief))
        // while it waits for the server, the page goes on from what it will be
        newest.current = outcome.sent ? (outcome.data as Job) : { ...now, brief, version: now.version + 1 }
        queries.setQueryData(api.queryOptions('get', '/jobs/{jobId}', { params: { path: { jobId: now.id } } }).queryKey, newest.current)
        if (!outcome.sent) return
      } catch (thrown) {
        newest.current = known.current
        refuse(asProblem(thrown))
      }
      refresh()
    })
  }
}
