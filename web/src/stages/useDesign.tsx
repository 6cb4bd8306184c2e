import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useEffect, useMemo, useState, useSyncExternalStore, type ReactNode } from 'react'
import { asProblem, client, type Design, type Job, type Problem, type Study } from '../api/client'
import { Fault } from '../parts/Fault'
import { sayProblem } from '../parts/Say'
import type { Change } from './history'
import type { Keeping } from './keeper'
import { hearDesigns, live, masterKey, openDesign, served, type OpenDesign, type Served } from './openDesign'

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
  /** Goes on from what the server has; undo brings back what was here. */
  loadNewest: () => void
  /** Keeps what is here over what the server has. */
  keepMine: () => void
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
  const master = masterKey(job)
  const opened = useQuery({
    queryKey: ['open design', job.id, master],
    queryFn: ({ signal }) => openDesign(job.id, master, signal),
    initialData: () => live(job.id, master),
    staleTime: 0,
    gcTime: 0,
    structuralSharing: false,
    refetchOnWindowFocus: 'always',
    retry: false,
  })
  useEffect(() => hearDesigns(onKept, sayProblem), [onKept])
  if (!opened.data) {
    return opened.error ? <Fault thrown={opened.error} retry={() => void opened.refetch()} /> : null
  }
  return (
    <Held key={`${job.id} ${master}`} job={job} open={opened.data}>
      {children}
    </Held>
  )
}

function Held({ job, open, children }: { job: Job; open: OpenDesign; children: ReactNode }) {
  const {
    history: { past, design, future },
    kept: { keeping, version },
  } = useSyncExternalStore(open.watch, open.state)
  const [trial, setTrial] = useState<Partial<Design> | null>(null)
  useEffect(() => () => void open.flush(), [open]) // leaving the stages waits for nothing

  // A change starts from the design as it is when it comes, not as it was when the page was last drawn:
  // an answer from the server, or a hand in the 3D view, may be late.
  const set = useCallback(
    (part: Change) => {
      setTrial(null)
      open.change(part)
    },
    [open],
  )
  const undo = useCallback(() => (setTrial(null), open.undo()), [open])
  const redo = useCallback(() => (setTrial(null), open.redo()), [open])
  const newest = useCallback((take: (s: Served) => void) => served(job.id).then(take).catch(sayProblem), [job.id])
  const loadNewest = useCallback(() => void newest((s) => open.takeTheirs(s)), [newest, open])
  const keepMine = useCallback(() => void newest((s) => open.keepMine(s)), [newest, open])

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
    loadNewest,
    keepMine,
  }
  return <Context.Provider value={work}>{children}</Context.Provider>
}
