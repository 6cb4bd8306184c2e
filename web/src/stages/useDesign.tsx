import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { api, asProblem, client, ifMatch, type Design, type Job, type Problem, type Study } from '../api/client'
import { Fault } from '../parts/Fault'
import { sayProblem } from '../parts/Say'
import { changed, redone, undone, type Change, type History } from './history'
import { Keeper, type Keeping, type Kept } from './keeper'

interface DesignWork {
  design: Design
  study: Study | undefined
  studying: boolean
  problem: Problem | null
  keeping: Keeping
  /** Names the design and the master as the server has them; null while a change is on its way. */
  kept: string | null
  /** Changes the design for good: it is kept, and can be undone. */
  set: (change: Change) => void
  /** Shows what would follow from a change while the hand is still moving. */
  tryOut: (change: Partial<Design> | null) => void
  undo: () => void
  redo: () => void
  canUndo: boolean
  canRedo: boolean
  loadNewest: () => void
}

const Context = createContext<DesignWork | null>(null)

export function useDesign(): DesignWork {
  const work = useContext(Context)
  if (!work) throw new Error('useDesign needs a DesignProvider around it')
  return work
}

/** The design where there is one: a job without a master has none. */
export function useDesignIfAny(): DesignWork | null {
  return useContext(Context)
}

/** Holds a job's design while its stages are open. */
export function DesignProvider({ job, onKept, children }: { job: Job; onKept: () => void; children: ReactNode }) {
  const path = { path: { jobId: job.id } }
  const kept = api.useQuery('get', '/jobs/{jobId}/design', { params: path }, { staleTime: Infinity, gcTime: 0 })
  if (!kept.data) {
    return kept.error ? <Fault thrown={kept.error} retry={() => void kept.refetch()} /> : null
  }
  return (
    <Held
      key={kept.dataUpdatedAt}
      job={job}
      first={kept.data.design}
      firstVersion={kept.data.version}
      reload={() => void kept.refetch()}
      onKept={onKept}
    >
      {children}
    </Held>
  )
}

interface HeldProps {
  job: Job
  first: Design
  firstVersion: number
  reload: () => void
  onKept: () => void
  children: ReactNode
}

function Held({ job, first, firstVersion, reload, onKept, children }: HeldProps) {
  const [{ past, design, future }, setHistory] = useState<History>({ past: [], design: first, future: [] })
  const history = useRef<History>({ past: [], design: first, future: [] })
  const [trial, setTrial] = useState<Partial<Design> | null>(null)
  const [{ keeping, version }, setKept] = useState<Kept>({ keeping: firstVersion === 0 ? 'proposal' : 'kept', version: firstVersion })
  const told = useRef(onKept)
  useEffect(() => {
    told.current = onKept
  })
  const [keeper] = useState(
    () =>
      new Keeper<Design>(firstVersion, {
        put: async (body, from) => {
          const { data } = await client.PUT('/jobs/{jobId}/design', {
            params: { path: { jobId: job.id }, header: ifMatch(from) },
            body,
            keepalive: true,
          })
          return data!.version
        },
        told: (now) => {
          setKept(now)
          if (now.keeping === 'kept') told.current()
        },
        refused: sayProblem,
      }),
  )

  useEffect(() => {
    const flush = () => void keeper.flush()
    window.addEventListener('pagehide', flush) // neither closing the page
    return () => {
      window.removeEventListener('pagehide', flush)
      flush() // nor leaving the stages loses anything
    }
  }, [keeper])

  const go = useCallback(
    (next: History | null) => {
      setTrial(null)
      if (!next) return
      history.current = next
      setHistory(next)
      keeper.change(next.design)
    },
    [keeper],
  )
  // A change starts from the design as it is when it comes, not as it was when the page was last drawn:
  // an answer from the server, or a hand in the 3D view, may be late.
  const set = useCallback((part: Change) => go(changed(history.current, part)), [go])
  const undo = useCallback(() => go(undone(history.current)), [go])
  const redo = useCallback(() => go(redone(history.current)), [go])

  const asked = useMemo(() => ({ ...design, ...trial }), [design, trial])
  const study = useQuery({
    queryKey: ['study', job.id, job.master?.mesh?.key ?? job.version, job.brief.inserts, asked],
    queryFn: async ({ signal }) => {
      const { data } = await client.POST('/jobs/{jobId}/study', { params: { path: { jobId: job.id } }, body: asked, signal })
      return data!
    },
    placeholderData: keepPreviousData,
    gcTime: 30_000,
    retry: (count, thrown) => asProblem(thrown).status === 0 && count < 5,
  })

  const work: DesignWork = {
    design: asked,
    study: study.data,
    studying: study.isFetching,
    problem: study.error ? asProblem(study.error) : null,
    keeping,
    kept: keeping === 'kept' || keeping === 'proposal' ? `${job.id} ${job.master?.mesh?.key ?? ''} ${job.version} ${version}` : null,
    set,
    tryOut: setTrial,
    undo,
    redo,
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    loadNewest: reload,
  }
  return <Context.Provider value={work}>{children}</Context.Provider>
}
