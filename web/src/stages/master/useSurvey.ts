import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { asProblem, client, type Job } from '../../api/client'
import { dir } from '../../parts/axes'
import { useDesignIfAny } from '../useDesign'

/** What is known of a mesh master, with the draw, rubber and resin of the design at hand; where it is not wanted, what is known already. */
export function useSurvey(job: Job, wanted = true) {
  const design = useDesignIfAny()?.design
  const draw = dir(design?.draw ?? '+z')
  const ask = { draw, rubber: design?.rubber ?? null, resin: design?.resin ?? null }
  return useQuery({
    queryKey: ['survey', job.id, job.version, job.master?.mesh?.key, ask],
    enabled: wanted && job.master !== undefined && design !== undefined,
    queryFn: async ({ signal }) => {
      const { data } = await client.POST('/jobs/{jobId}/survey', { params: { path: { jobId: job.id } }, body: ask, signal })
      return data!
    },
    placeholderData: (old, query) => (query?.queryKey[3] === job.master?.mesh?.key ? keepPreviousData(old) : undefined),
    retry: (count, thrown) => asProblem(thrown).status === 0 && count < 5,
  })
}

/** A map over the triangles of the drawing, as the server made it. */
export function useMap(job: Job, path: string) {
  const key = job.master?.mesh?.key
  return useQuery({
    queryKey: ['map', key, path],
    enabled: key !== undefined,
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      const response = await fetch(`/api/jobs/${job.id}/maps/${path}`, { signal })
      if (!response.ok) throw asProblem(await response.json().catch(() => null))
      return response.arrayBuffer()
    },
  })
}
