import { api, type Build, type BuildSearch, type Job, type MouldKind, type Problem, type Rise } from '../api/client'
import { useSearch } from '../parts/useSearch'
import { useDesign, useDesignIfAny } from './useDesign'

export interface MouldWork {
  /** The kept design worked out down to the bench; null until it is. */
  build: Build | null
  /** What is being done; null when nothing is. */
  stage: string | null
  broken: Problem | null
  again: () => void
}

/** The kinds of mould that are built. */
export function useKinds(): MouldKind[] {
  return api.useQuery('get', '/kinds', {}, { staleTime: Infinity }).data ?? []
}

/** The kept design worked out down to the bench. The server builds what is kept: another design is asked about when it is. */
export function useMould(job: Job, wanted = true): MouldWork {
  const { kept } = useDesign()
  const path = kept !== null && wanted ? `/api/jobs/${job.id}/searches/build?v=${encodeURIComponent(kept)}` : null
  const { found, broken, again } = useSearch<BuildSearch>(path)
  const build = found?.build ?? null
  return {
    build,
    stage: wanted && !build && !broken ? (found?.stage ?? (kept === null ? 'keeping the change' : 'beginning')) : null,
    broken,
    again,
  }
}

/** The rises of the rubber: with how much lies below each height once the rubber is divided. */
export function useRises(work: MouldWork): Rise[] {
  const study = useDesignIfAny()?.study
  const now = study?.mould.rises ?? []
  const built = work.build?.mould.rises
  return built && built.length >= now.length ? built : now
}

/** The first pour that is followed as it rises: side pieces are walled off one by one. */
export function firstFollowed(rises: Rise[]): number {
  return Math.max(
    0,
    rises.findIndex((r) => r.heights.length > 0),
  )
}
