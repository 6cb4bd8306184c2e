import { useEffect, useRef } from 'react'
import { client, ifMatch, type Brief, type Job } from '../../api/client'
import { sayProblem } from '../../parts/Say'
import type { PanelProps } from './look'

/** Changes what is said of the master and keeps it, one change after the other, each from what the one before it left. */
export function useBrief({ job, refresh }: Pick<PanelProps, 'job' | 'refresh'>) {
  const newest = useRef<Job>(job)
  const queue = useRef<Promise<unknown>>(Promise.resolve())
  useEffect(() => {
    if (job.id !== newest.current.id || job.version > newest.current.version) newest.current = job
  }, [job])
  return (change: (brief: Brief) => Partial<Brief>) => {
    queue.current = queue.current.then(async () => {
      const { id, version, brief } = newest.current
      try {
        const { data } = await client.PUT('/jobs/{jobId}/brief', {
          params: { path: { jobId: id }, header: ifMatch(version) },
          body: { ...brief, ...change(brief) },
        })
        if (data) newest.current = data
      } catch (thrown) {
        sayProblem(thrown)
      }
      refresh()
    })
  }
}
