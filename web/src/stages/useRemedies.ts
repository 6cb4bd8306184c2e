import { useCallback } from 'react'
import { useNavigate } from 'react-router'
import { client, type Design, type Job, type Remedy } from '../api/client'
import { useDesignIfAny } from './useDesign'

/** Carries out what a finding offers: the one place where remedies act. */
export function useRemedies(job: Job): (r: Remedy) => void {
  const work = useDesignIfAny()
  const navigate = useNavigate()
  return useCallback(
    (r: Remedy) => {
      const go = (path: string) => void navigate(path)
      const set = work?.set ?? (() => undefined)
      const acts: Record<Remedy['action'], () => void> = {
        'add-vent': () => r.at && set((now) => ({ vents: [...now.vents, { at: r.at!, bore: now.ventBore }] })),
        'remove-vent': () => set((now) => ({ vents: now.vents.filter((_, i) => i !== r.value) })),
        'propose-vents': () => {
          if (!work) return
          client
            .POST('/jobs/{jobId}/vents', { params: { path: { jobId: job.id } }, body: work.design })
            .then(({ data }) => data && set({ vents: data }))
            .catch(work.fail)
        },
        'set-parting': () => set({ parting: null }),
        'set-headroom': () => set((now) => ({ clearance: { ...now.clearance, above: r.value } })),
        'set-below': () => set((now) => ({ clearance: { ...now.clearance, below: r.value } })),
        'clear-supports': () => set({ supports: undefined }),
        'set-beside': () => set((now) => ({ clearance: { ...now.clearance, beside: r.value } })),
        'set-well': () => set({ wellWidth: r.value }),
        'set-sprue': () => set({ sprueBore: r.value }),
        'feed-top': () => set({ feed: 'top', sprueBore: r.value }),
        'set-runners': () => set({ runners: (r.text as Design['runners']) || undefined, shaft: undefined }),
        'reset-sprue': () => set({ foot: undefined, shaft: undefined }),
        'set-kind': () => set({ kind: r.text }),
        'open-master': () => go(`/jobs/${job.id}/master`),
        'open-stock': () => go('/stock'),
        'open-practice': () => go('/practice'),
      }
      acts[r.action]()
    },
    [work, job.id, navigate],
  )
}
