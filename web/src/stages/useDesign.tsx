import { keepPreviousData, replaceEqualDeep, useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, useSyncExternalStore, type ReactNode } from 'react'
import { asProblem, client, type Design, type Job, type Problem, type Study } from '../api/client'
import { Fault } from '../parts/Fault'
import { sayProblem } from '../parts/Say'
import { Asker } from './asker'
import type { Change } from './history'
import type { Keeping } from './keeper'
import { hearDesigns, live, masterKey, openDesign, served, type OpenDesign, type Served } from './openDesign'

export interface DesignWork {
  /** The design that is asked about; while a hand moves, not yet its last move. */
  design: Design
  /** What follows from it, or from the last one that was answered. */
  study: Study | undefined
  problem: Problem | null
  keeping: Keeping
  /** Of what the server has. */
  version: number
  /** Names the design and the master as the server has them; null while a change is on its way. */
  kept: string | null
  /** Changes the design for good: it is kept, and can be undone. */
  set: (change: Change) => void
  /** Tells, where the design is worked on, that something asked for it failed; the next change wipes it out. */
  fail: (thrown: unknown) => void
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

interface Opening {
  work: DesignWork | null
  /** Why the design could not be opened. */
  fault: ReactNode
}

const Context = createContext<Opening>({ work: null, fault: null })

/** What follows from where a hand was a moment ago. */
interface Answered {
  design: Design
  study: Study
}

interface HandWork {
  /** The design as the hand shows it, ahead of what is known of it. */
  design: Design
  moving: boolean
}

const Hand = createContext<HandWork | null>(null)

/** What a hand does to the design right now. For what is drawn at once, and little else: it changes with every move. */
export function useHand(): HandWork {
  const work = useContext(Hand)
  if (!work) throw new Error('useHand needs a DesignProvider around it')
  return work
}

export function useDesign(): DesignWork {
  const { work } = useContext(Context)
  if (!work) throw new Error('useDesign needs a DesignProvider around it')
  return work
}

/** The design once it is open: a job without a master has none. */
export function useDesignIfAny(): DesignWork | null {
  return useContext(Context).work
}

/** Why the design could not be opened, if that is so. */
export const useDesignFault = () => useContext(Context).fault

/** Holds a job's design while its stages are open. What asks for none is shown before it is there: for a large master a proposal takes a while. */
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
  const { work, hand } = useHeld(job, opened.data)
  const { error, refetch } = opened
  const fault = useMemo(() => !work && error && <Fault thrown={error} retry={() => void refetch()} />, [work, error, refetch])
  const opening = useMemo(() => ({ work, fault }), [work, fault])
  return (
    <Context.Provider value={opening}>
      <Hand.Provider value={hand}>{children}</Hand.Provider>
    </Context.Provider>
  )
}

const never = () => () => undefined
const nothing = () => null

/** The work on an open design; null for both until it is open. */
function useHeld(job: Job, open: OpenDesign | undefined): { work: DesignWork | null; hand: HandWork | null } {
  const state = useSyncExternalStore(open?.watch ?? never, open?.state ?? nothing)
  const design = state?.history.design
  const queries = useQueryClient()
  const [trial, setTrial] = useState<Partial<Design> | null>(null)
  const [answered, setAnswered] = useState<Answered | null>(null)
  useEffect(() => () => void open?.flush(), [open]) // leaving the stages waits for nothing

  const about = useMemo(
    () => ['study', job.id, job.master?.mesh?.key ?? job.version, job.brief.inserts],
    [job.id, job.master?.mesh?.key, job.version, job.brief.inserts],
  )
  const put = useCallback(
    async (body: Design, signal: AbortSignal) =>
      (await client.POST('/jobs/{jobId}/study', { params: { path: { jobId: job.id } }, body, signal })).data!,
    [job.id],
  )
  const last = useRef<unknown>(undefined)
  const trying = useRef(false)
  const [failure, setFailure] = useState<Problem | null>(null)
  const fail = useCallback((thrown: unknown) => setFailure(asProblem(thrown)), [])
  const shared = useCallback((now: unknown) => (last.current = replaceEqualDeep(last.current, now)), []) // what is the same need not be drawn anew
  const asker = useMemo(
    () =>
      new Asker<Design, Study>({
        put,
        drawn: () => new Promise((go) => requestAnimationFrame(() => setTimeout(go))),
        told: (design, answer) => {
          const study = shared(answer) as Study
          queries.setQueryData([...about, design], study) // where the hand lets go, it is known
          setAnswered({ design, study })
        },
      }),
    [put, shared, queries, about],
  )
  const settled = useCallback(() => {
    asker.drop()
    trying.current = false
    setTrial(null)
    setFailure(null)
  }, [asker])
  useEffect(() => () => asker.drop(), [asker])

  // A change starts from the design as it is when it comes, not as it was when the page was last drawn:
  // an answer from the server, or a hand in the 3D view, may be late.
  const set = useCallback((part: Change) => (settled(), open?.change(part)), [open, settled])
  const tryOut = useCallback(
    (part: Partial<Design> | null) => {
      if (!part || !open) return settled()
      if (!trying.current) setAnswered(null) // what an earlier drag was told
      trying.current = true
      setTrial(part)
      asker.ask({ ...open.state().history.design, ...part })
    },
    [open, asker, settled],
  )
  const undo = useCallback(() => (settled(), open?.undo()), [open, settled])
  const redo = useCallback(() => (settled(), open?.redo()), [open, settled])
  const newest = useCallback((take: (s: Served) => void) => served(job.id).then(take).catch(sayProblem), [job.id])
  const loadNewest = useCallback(() => void newest((s) => open?.takeTheirs(s)), [newest, open])
  const keepMine = useCallback(() => void newest((s) => open?.keepMine(s)), [newest, open])

  const asked = useQuery({
    queryKey: [...about, design],
    queryFn: ({ signal }) => put(design!, signal),
    enabled: design !== undefined,
    placeholderData: keepPreviousData,
    structuralSharing: (_, now) => shared(now),
    gcTime: 30_000,
    retry: (count, thrown) => asProblem(thrown).status === 0 && count < 5,
  })
  const lettingGo = asked.isPlaceholderData && answered // where the hand let go, until more is known
  const { design: known, study } = trial && answered ? answered : { design, study: lettingGo ? answered.study : asked.data }
  const problem = useMemo(() => failure ?? (asked.error ? asProblem(asked.error) : null), [failure, asked.error])
  const { keeping = 'kept', version = 0 } = state?.kept ?? {}
  const kept = keeping === 'kept' || keeping === 'proposal' ? `${job.id} ${job.master?.mesh?.key ?? ''} ${job.version} ${version}` : null
  const hand = useMemo(() => (design ? { design: { ...design, ...trial }, moving: trial !== null } : null), [design, trial])
  const [canUndo, canRedo] = [(state?.history.past.length ?? 0) > 0, (state?.history.future.length ?? 0) > 0]
  const work = useMemo<DesignWork | null>(
    () =>
      known
        ? {
            design: known,
            study,
            problem,
            keeping,
            version,
            kept,
            set,
            fail,
            tryOut,
            undo,
            redo,
            canUndo,
            canRedo,
            loadNewest,
            keepMine,
          }
        : null,
    [known, study, problem, keeping, version, kept, set, fail, tryOut, undo, redo, canUndo, canRedo, loadNewest, keepMine],
  )
  return { work, hand }
}
