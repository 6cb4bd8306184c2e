import { Button, VisuallyHidden } from '@mantine/core'
import { useCallbackRef, useDocumentTitle } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useMemo, type ReactNode } from 'react'
import { Link, Navigate, useNavigate, useParams } from 'react-router'
import { api, type Job } from '../api/client'
import { Sign } from '../parts/Findings'
import { Fault } from '../parts/Fault'
import { Shelter } from '../parts/Shelter'
import { useKeys } from '../parts/useKeys'
import { ViewHome } from '../parts/viewer/Viewer'
import classes from './JobPage.module.css'
import { GatesStage } from './GatesStage'
import { MasterStage } from './master/MasterStage'
import { MouldStage } from './MouldStage'
import { OrderStage } from './OrderStage'
import { PullsStage } from './PullsStage'
import { RubberStage } from './RubberStage'
import { ShotStage } from './ShotStage'
import { stageName, stages, type Stage, type StageProps } from './stages'
import { useSurvey } from './master/useSurvey'
import { masterKey } from './openDesign'
import { useOffers } from '../parts/offers'
import { useRemedies } from './useRemedies'
import { useUndoKeys } from './useUndoKeys'
import { DesignProvider, useDesignFault, useDesignIfAny, type DesignWork } from './useDesign'

const designed: Stage[] = ['mould', 'gates', 'rubber', 'shot']
const pages: Record<Stage, (props: StageProps) => ReactNode> = {
  order: OrderStage,
  master: MasterStage,
  mould: MouldStage,
  gates: GatesStage,
  rubber: RubberStage,
  shot: ShotStage,
  pulls: PullsStage,
}

export function JobPage() {
  return (
    <ViewHome>
      <JobInHand />
    </ViewHome>
  )
}

function JobInHand() {
  const { jobId = '', stage = '' } = useParams()
  const queries = useQueryClient()
  const job = api.useQuery('get', '/jobs/{jobId}', { params: { path: { jobId } } })
  const refetch = job.refetch
  const refresh = useCallback(() => {
    void refetch()
    void queries.invalidateQueries({ queryKey: ['get', '/jobs'] })
    void queries.invalidateQueries({ queryKey: ['get', '/jobs/{jobId}/earlier'] })
  }, [refetch, queries])

  if (job.error && !job.data) return <Fault thrown={job.error} retry={() => void refetch()} />
  if (!job.data) return <p className={classes.wait}>Opening the job…</p>
  if (!stages.includes(stage as Stage)) return <Navigate replace to={`/jobs/${jobId}/${job.data.next.stage}`} />
  const at = stage as Stage
  const Page = pages[at]
  const page = (
    <Shelter what={stageName[at]} resetKeys={[jobId, at]}>
      <Page key={jobId} job={job.data} refresh={refresh} />
    </Shelter>
  )
  if (!job.data.master) {
    return (
      <Frame job={job.data} at={at}>
        {designed.includes(at) ? <NoMaster jobId={jobId} /> : page}
      </Frame>
    )
  }
  return (
    <DesignProvider key={`${jobId} ${masterKey(job.data)}`} job={job.data} onKept={refresh}>
      <FrameWithDesign job={job.data} at={at}>
        {page}
      </FrameWithDesign>
    </DesignProvider>
  )
}

function NoMaster({ jobId }: { jobId: string }) {
  return (
    <div className={classes.empty}>
      <h1>First the master</h1>
      <p>
        Box, rubber, vents and shot all follow from the part that is copied. A mesh is best; size and volume will do for the quantities.
      </p>
      <Button component={Link} to={`/jobs/${jobId}/master`}>
        Add the master
      </Button>
    </div>
  )
}

interface FrameProps {
  job: Job
  at: Stage
  stops?: Partial<Record<Stage, number>>
  /** Stages that are still looked at: whether they are ready is not known. */
  open?: Stage[]
  banner?: ReactNode
  children: ReactNode
}

function FrameWithDesign({ job, at, children }: Omit<FrameProps, 'stops' | 'open'>) {
  const navigate = useNavigate()
  const work = useDesignIfAny()
  const fault = useDesignFault()
  useUndoKeys(
    () => work?.undo(),
    () => work?.redo(),
  )
  const study = work?.study
  const stops: Partial<Record<Stage, number>> = {}
  const surveyed = useSurvey(job)
  const survey = surveyed.data
  const open: Stage[] = [...(surveyed.isPending ? (['master'] as const) : []), ...(study ? [] : designed)]
  for (const f of [...(study?.findings ?? []), ...(survey?.findings ?? [])]) {
    if (f.severity === 'stop') stops[f.stage as Stage] = (stops[f.stage as Stage] ?? 0) + 1
  }
  const remedy = useCallbackRef(useRemedies(job))
  const found = study?.findings
  const offers = useMemo(
    () =>
      (found ?? []).flatMap((f, i) => [
        {
          id: `finding ${i}`,
          label: f.what,
          description: `${f.severity} on ${stageName[f.stage as Stage]}`,
          does: () => void navigate(`/jobs/${job.id}/${f.stage}`),
        },
        ...f.remedies.map((r, k) => ({ id: `remedy ${i} ${k}`, label: r.label, description: `against: ${f.what}`, does: () => remedy(r) })),
      ]),
    [found, job.id, navigate, remedy],
  )
  useOffers(offers)
  const shapes = designed.includes(at)
  return (
    <Frame job={job} at={at} stops={stops} open={open} banner={shapes && work && <Kept work={work} />}>
      {work?.keeping === 'conflict' && (
        <div className={classes.conflict} role="alert">
          <span>
            <strong>This design was changed in another window.</strong> Nothing was overwritten. What is here is not kept until you choose;
            undo brings the other back.
          </span>
          <Button size="xs" onClick={work.loadNewest}>
            Load the newest
          </Button>
          <Button size="xs" variant="default" onClick={work.keepMine}>
            Keep mine
          </Button>
        </div>
      )}
      {shapes && !work ? fault || <p className={classes.wait}>Opening the design…</p> : children}
    </Frame>
  )
}

/** Whether the design is kept, and the way back. */
function Kept({ work: { keeping, undo, redo, canUndo, canRedo } }: { work: DesignWork }) {
  const word = {
    proposal: 'proposal, not changed yet',
    kept: 'kept',
    keeping: 'keeping…',
    waiting: 'not kept yet: the server does not answer; trying again',
    conflict: '',
    refused: 'the last change was not kept',
  }[keeping]
  return (
    <div className={classes.keeping}>
      <span role="status">{word}</span>
      <Button size="compact-sm" variant="subtle" onClick={undo} disabled={!canUndo} title="Ctrl+Z">
        Undo
      </Button>
      <Button size="compact-sm" variant="subtle" onClick={redo} disabled={!canRedo} title="Ctrl+Shift+Z">
        Redo
      </Button>
    </div>
  )
}

function Frame({ job, at, stops = {}, open = [], banner, children }: FrameProps) {
  const navigate = useNavigate()
  useDocumentTitle(`${stageName[at]} · ${job.order.name} · Bathyform`)
  useKeys(stages.map((s, i) => [`alt+${i + 1}`, () => void navigate(`/jobs/${job.id}/${s}`)]))
  return (
    <div className={classes.page}>
      <nav className={classes.strip} aria-label="Stages of the job">
        {at !== 'order' && at !== 'pulls' && (
          <VisuallyHidden component="h1">
            {stageName[at]} of {job.order.name}
          </VisuallyHidden>
        )}
        {job.stages.map((s) => {
          const count = stops[s.stage] ?? 0
          return (
            <Link
              key={s.stage}
              to={`/jobs/${job.id}/${s.stage}`}
              className={classes.stage}
              aria-current={s.stage === at ? 'step' : undefined}
            >
              <span>{stageName[s.stage]}</span>
              {count > 0 ? (
                <small className={classes.stop}>
                  <Sign severity="stop" /> {count === 1 ? '1 stop' : `${count} stops`}
                </small>
              ) : s.state === 'ready' && open.includes(s.stage as Stage) ? (
                <small>looking…</small>
              ) : (
                <small className={s.state === 'ready' ? classes.ready : undefined}>
                  {s.state === 'ready' && <Sign severity="ok" />} {s.note}
                </small>
              )}
            </Link>
          )
        })}
        {banner}
      </nav>
      <div className={classes.body}>{children}</div>
    </div>
  )
}
