import { client, ifMatch, type Brief } from '../../api/client'
import { sayProblem } from '../../parts/Say'
import type { PanelProps } from './look'

/** Changes what is said of the master and keeps it. */
export function useBrief({ job, refresh }: Pick<PanelProps, 'job' | 'refresh'>) {
  return (part: Partial<Brief>) => {
    client
      .PUT('/jobs/{jobId}/brief', { params: { path: { jobId: job.id }, header: ifMatch(job.version) }, body: { ...job.brief, ...part } })
      .catch(sayProblem)
      .finally(refresh)
  }
}
