import { useCallback, useRef, useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { client, type Finding, type Job, type Remedy, type Rise } from '../api/client'
import { Findings } from '../parts/Findings'
import { sayProblem } from '../parts/Say'
import { Sounding, type Pour } from '../parts/Sounding'
import { useSounding } from '../parts/useSounding'
import type { SceneProps, ViewHandle } from '../parts/viewer/Scene'
import { Viewer } from '../parts/viewer/Viewer'
import classes from './DesignStage.module.css'
import type { Stage } from './stages'
import { useDesign } from './useDesign'

interface Props {
  job: Job
  stage: Stage
  /** What rises on this stage, and how it is drawn. */
  rise: Rise | undefined
  pour: Pour
  caption: ReactNode
  show: SceneProps['show']
  side: ReactNode
  settled: string
  view?: Partial<SceneProps>
  /** Moves the parting by hand in the section. */
  onParting?: (height: number, settled: boolean) => void
  /** Takes the place of the 3D view and the section. */
  instead?: ReactNode
  /** What is found on this stage, if not all that the study says of it. */
  found?: (ofStudy: Finding[]) => Finding[]
  /** Carries out what only this stage can; says whether it did. */
  onRemedy?: (r: Remedy) => boolean
}

/** The frame of a design stage: 3D, section with rail, what is set and what follows, findings. */
export function DesignStage({ job, stage, rise, pour, caption, show, side, settled, view, onParting, instead, found = (all) => all, onRemedy }: Props) {
  const { design, study, problem } = useDesign()
  const remedy = useRemedies(job)
  const handle = useRef<ViewHandle>(null)
  const [marked, setMarked] = useState<readonly number[] | null>(null)
  const sounding = useSounding(job, study, rise, design.draw)

  function showPlace(f: Finding) {
    if (!f.where) return
    setMarked(f.where)
    handle.current?.lookAt(f.where)
    sounding.show(f.where, f.height)
  }

  const findings = found((study?.findings ?? []).filter((f) => f.stage === stage))
  return (
    <>
      <main className={classes.stage}>
        {instead ?? (
          <>
        <section className={classes.scene} aria-label="The mould in 3D">
          <div className={classes.caption}>{caption}</div>
          {job.master?.kind === 'mesh' ? (
            <Viewer ref={handle} job={job} label={`${job.order.name} in its mould`} up={rise?.up ?? '+z'} study={study} draw={design.draw} show={show} level={sounding.level}
              cut={sounding.cut ?? undefined} setCut={sounding.setOffset} marked={marked} {...view} />
          ) : (
            <div className={classes.noShape}>
              <p>The shape of this master is not known, so it cannot be drawn. Box, rubber and shot are worked out from its size and volume.</p>
            </div>
          )}
        </section>
        <section className={classes.sounding} aria-label="Section and sounding rail">
          {study && rise && sounding.cut ? <Sounding study={study} rise={rise} pour={pour} draw={design.draw} {...sounding} cut={sounding.cut} onParting={onParting} /> : <p className={classes.wait}>{problem ? '' : 'Working it out…'}</p>}
        </section>
          </>
        )}
        <aside className={classes.side} aria-label="What is set and what follows">
          {problem && problem.status !== 0 && (
            <div role="alert" className={classes.problem}>
              <strong>{problem.title}.</strong> {problem.detail}
            </div>
          )}
          {side}
        </aside>
      </main>
      <Findings findings={findings} onShow={showPlace} onRemedy={(r) => onRemedy?.(r) || remedy(r)} settled={settled} />
    </>
  )
}

/** Carries out what a finding offers. */
export function useRemedies(job: Job) {
  const { design, set } = useDesign()
  const navigate = useNavigate()
  return useCallback(
    (r: Remedy) => {
      switch (r.action) {
        case 'add-vent':
          if (r.at) set((now) => ({ vents: [...now.vents, { at: r.at!, bore: now.ventBore }] }))
          break
        case 'remove-vent':
          set((now) => ({ vents: now.vents.filter((_, i) => i !== r.value) }))
          break
        case 'propose-vents':
          client
            .POST('/jobs/{jobId}/vents', { params: { path: { jobId: job.id } }, body: design })
            .then(({ data }) => data && set({ vents: data }))
            .catch(sayProblem)
          break
        case 'set-parting':
          set({ parting: null })
          break
        case 'set-headroom':
          set((now) => ({ clearance: { ...now.clearance, above: r.value } }))
          break
        case 'set-beside':
          set((now) => ({ clearance: { ...now.clearance, beside: r.value } }))
          break
        case 'set-well':
          set({ wellWidth: r.value })
          break
        case 'open-master':
          void navigate(`/jobs/${job.id}/master`)
          break
        case 'open-stock':
          void navigate('/stock')
          break
        case 'open-practice':
          void navigate('/practice')
          break
      }
    },
    [design, set, job.id, navigate],
  )
}
