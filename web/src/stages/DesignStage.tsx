import { useHotkeys } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useRef, useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { client, type Axis, type Finding, type Job, type Remedy, type Study } from '../api/client'
import { along, dir, levelAxes, span } from '../parts/axes'
import { Findings } from '../parts/Findings'
import { sayProblem } from '../parts/Say'
import { Sounding, type Cut } from '../parts/Sounding'
import type { SceneProps, ViewHandle } from '../parts/viewer/Scene'
import { Viewer } from '../parts/viewer/Viewer'
import classes from './DesignStage.module.css'
import type { Stage } from './stages'
import { useDesign } from './useDesign'

interface Props {
  job: Job
  stage: Stage
  /** The way up that this stage is drawn in. */
  up: Axis
  caption: ReactNode
  show: SceneProps['show']
  filled: boolean
  side: ReactNode
  settled: string
  view?: Partial<SceneProps>
}

/** The frame of a design stage: 3D, section with rail, what is set and what follows, findings. */
export function DesignStage({ job, stage, up, caption, show, filled, side, settled, view }: Props) {
  const { design, study, problem } = useDesign()
  const remedy = useRemedies(job)
  const handle = useRef<ViewHandle>(null)
  const [marked, setMarked] = useState<readonly number[] | null>(null)
  const [wantedCut, setCut] = useState<Cut | null>(null)
  const [wantedLevel, setLevel] = useState<number | null>(null)

  const cut = useMemo(() => (study ? settledCut(wantedCut, up, design.draw, study) : null), [wantedCut, up, design.draw, study])
  const levels = study?.gates.levels ?? []
  const level = Math.min(wantedLevel ?? startLevel(study), Math.max(0, levels.length - 1))
  useHotkeys([
    ['[', () => setLevel(Math.max(0, level - 1))],
    [']', () => setLevel(Math.min(levels.length - 1, level + 1))],
    ['shift+[', () => setLevel(Math.max(0, level - 10))],
    ['shift+]', () => setLevel(Math.min(levels.length - 1, level + 10))],
  ])

  const section = useQuery({
    queryKey: ['section', job.id, job.master?.mesh?.key, cut?.axis, cut?.offset.toFixed(2)],
    enabled: cut !== null && job.master?.mesh !== undefined,
    queryFn: async ({ signal }) => (await client.GET('/jobs/{jobId}/section', { params: { path: { jobId: job.id }, query: { axis: cut!.axis, offset: cut!.offset } }, signal })).data!,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: (previous) => previous,
  })

  const showPlace = useCallback(
    (f: Finding) => {
      if (!f.where || !study) return
      setMarked(f.where)
      handle.current?.lookAt(f.where)
      const axis = cut?.axis ?? levelAxes(up)[0]
      setCut({ axis, offset: f.where[0] * dir(axis)[0] + f.where[1] * dir(axis)[1] + f.where[2] * dir(axis)[2] })
      if (f.height !== undefined) {
        const h = f.height
        const above = study.gates.levels.findIndex((l) => l.height > h)
        if (above >= 0) setLevel(above)
      }
    },
    [study, cut, up],
  )

  const findings = (study?.findings ?? []).filter((f) => f.stage === stage)
  const [low, high] = study && cut ? span(study.mould.boxLow, study.mould.boxHigh, dir(cut.axis)) : [0, 0]
  const boxed = job.master?.kind === 'mesh'
  return (
    <>
      <main className={classes.stage}>
        <section className={classes.scene} aria-label="The mould in 3D">
          <div className={classes.caption}>{caption}</div>
          {boxed ? (
            <Viewer ref={handle} job={job} label={`${job.order.name} in its mould`} up={up} study={study} draw={design.draw} show={show} level={level}
              cut={cut ?? undefined} setCut={(offset) => cut && setCut({ axis: cut.axis, offset })} marked={marked} {...view} />
          ) : (
            <div className={classes.noShape}>
              <p>The shape of this master is not known, so it cannot be drawn. Box, rubber and shot are worked out from its size and volume.</p>
            </div>
          )}
        </section>
        <section className={classes.sounding} aria-label="Section and sounding rail">
          {study && cut ? (
            <Sounding study={study} up={up} draw={design.draw} cut={cut} loops={section.data?.loops} level={level} setLevel={setLevel} filled={filled && levels.length > 0}
              moveCut={(steps) => setCut({ axis: cut.axis, offset: Math.min(high, Math.max(low, cut.offset + (steps * (high - low)) / 100)) })}
              turnCut={() => {
                const other = levelAxes(up).find((a) => !along(a, cut.axis))!
                const [a, b] = span(study.mould.boxLow, study.mould.boxHigh, dir(other))
                setCut({ axis: other, offset: (a + b) / 2 })
              }} />
          ) : (
            <p className={classes.wait}>{problem ? '' : 'Working it out…'}</p>
          )}
        </section>
        <aside className={classes.side} aria-label="What is set and what follows">
          {problem && problem.status !== 0 && (
            <div role="alert" className={classes.problem}>
              <strong>{problem.title}.</strong> {problem.detail}
            </div>
          )}
          {side}
        </aside>
      </main>
      <Findings findings={findings} onShow={showPlace} onRemedy={remedy} settled={settled} />
    </>
  )
}

/** The middle of the mould along the parting, where the most is seen, until the caster moves the plane. */
function settledCut(wanted: Cut | null, up: Axis, draw: Axis, study: Study): Cut {
  const level = levelAxes(up)
  if (wanted && level.includes(wanted.axis)) return wanted
  const size = (a: Axis) => {
    const [l, h] = span(study.mould.boxLow, study.mould.boxHigh, dir(a))
    return h - l
  }
  const axis = size(level[0]) <= size(level[1]) ? level[0] : level[1]
  const [a, b] = span(study.mould.boxLow, study.mould.boxHigh, dir(axis))
  const offset = along(axis, draw) ? study.mould.parting * (draw[0] === '-' ? -1 : 1) : (a + b) / 2
  return { axis, offset: offset + 0.013 } // off the part's own plane of symmetry, where facets lie
}

/** Where the level stands at first: just past the last pocket, or at the top of the part. */
function startLevel(study: Study | undefined): number {
  if (!study) return 0
  const { levels, pockets, partHigh, partLow } = study.gates
  const target = pockets.length > 0 && pockets[0].sealHeight > partLow + 1 ? Math.max(...pockets.map((p) => p.sealHeight)) + 1.2 : partHigh * 0.8 + partLow * 0.2
  const i = levels.findIndex((l) => l.height >= target)
  return i < 0 ? Math.max(0, levels.length - 1) : i
}

/** Carries out what a finding offers. */
export function useRemedies(job: Job) {
  const { design, set } = useDesign()
  const navigate = useNavigate()
  return useCallback(
    (r: Remedy) => {
      switch (r.action) {
        case 'add-vent':
          if (r.at) set({ vents: [...design.vents, { at: r.at, bore: design.ventBore }] })
          break
        case 'remove-vent':
          set({ vents: design.vents.filter((_, i) => i !== r.value) })
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
          set({ clearance: { ...design.clearance, above: r.value } })
          break
        case 'set-beside':
          set({ clearance: { ...design.clearance, beside: r.value } })
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
