import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { api, asProblem, client, ifMatch, type Design, type Job, type Problem, type Study } from '../api/client'
import { Fault } from '../parts/Fault'
import { sayProblem } from '../parts/Say'
import { changed, redone, undone, type Change, type History } from './history'

/** Whether the design on the page is the one in the database. */
export type Keeping = 'proposal' | 'kept' | 'keeping' | 'waiting' | 'conflict' | 'refused'

interface DesignWork {
  design: Design
  study: Study | undefined
  studying: boolean
  problem: Problem | null
  keeping: Keeping
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

const settleMs = 350 // a pause after which a change is kept
const retryMs = 3000

/** Holds a job's design while its stages are open. */
export function DesignProvider({ job, onKept, children }: { job: Job; onKept: () => void; children: ReactNode }) {
  const path = { path: { jobId: job.id } }
  const kept = api.useQuery('get', '/jobs/{jobId}/design', { params: path }, { staleTime: Infinity, gcTime: 0 })
  if (!kept.data) {
    return kept.error ? <Fault thrown={kept.error} retry={() => void kept.refetch()} /> : null
  }
  return (
    <Held key={kept.dataUpdatedAt} job={job} first={kept.data.design} firstVersion={kept.data.version} reload={() => void kept.refetch()} onKept={onKept}>
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
  const [keeping, setKeeping] = useState<Keeping>(firstVersion === 0 ? 'proposal' : 'kept')
  const version = useRef(firstVersion)
  const unkept = useRef<Design | null>(null)
  const busy = useRef(false)
  const timer = useRef<number | undefined>(undefined)
  const keepRef = useRef<() => Promise<void>>(async () => undefined)

  const keep = useCallback(async () => {
    if (busy.current || !unkept.current) return
    const mine = unkept.current
    busy.current = true
    setKeeping('keeping')
    try {
      const { data } = await client.PUT('/jobs/{jobId}/design', {
        params: { path: { jobId: job.id }, header: ifMatch(version.current) },
        body: mine,
        keepalive: true,
      })
      if (data) version.current = data.version
      if (unkept.current === mine) unkept.current = null
      setKeeping(unkept.current ? 'keeping' : 'kept')
      onKept()
      busy.current = false
      if (unkept.current) void keepRef.current()
      return
    } catch (thrown) {
      const p = asProblem(thrown)
      if (p.status === 412) {
        setKeeping('conflict')
      } else if (p.status === 0 || p.status >= 500) {
        setKeeping('waiting')
        timer.current = window.setTimeout(() => void keepRef.current(), retryMs)
      } else {
        setKeeping('refused')
        unkept.current = null
        sayProblem(p)
      }
    }
    busy.current = false
  }, [job.id, onKept])

  useEffect(() => {
    keepRef.current = keep
  }, [keep])

  useEffect(() => {
    const flush = () => {
      window.clearTimeout(timer.current)
      if (unkept.current) void keepRef.current()
    }
    window.addEventListener('pagehide', flush) // neither closing the page
    return () => {
      window.removeEventListener('pagehide', flush)
      flush() // nor leaving the stages loses anything
    }
  }, [])

  const conflict = keeping === 'conflict'
  const go = useCallback(
    (next: History | null) => {
      setTrial(null)
      if (!next) return
      history.current = next
      setHistory(next)
      if (conflict) return // told already; the newest has to be loaded first
      unkept.current = next.design
      setKeeping('keeping') // from now on what the server has is old
      window.clearTimeout(timer.current)
      timer.current = window.setTimeout(() => void keepRef.current(), settleMs)
    },
    [conflict],
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
