import { useCallbackRef } from '@mantine/hooks'
import { useRef, useState, type ReactNode } from 'react'
import type { Build, Design, Finding, Job, Rise } from '../api/client'
import { Findings } from '../parts/Findings'
import { Sounding, type Pour } from '../parts/Sounding'
import { useSounding } from '../parts/useSounding'
import type { ChannelHands, Foot } from '../parts/Feet'
import type { SceneProps, ViewHandle } from '../parts/viewer/Scene'
import { Viewer } from '../parts/viewer/Viewer'
import classes from './DesignStage.module.css'
import type { Stage } from './stages'
import { useDesign, useHand } from './useDesign'
import { useRemedies } from './useRemedies'

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
  /** Work is still going on: no tick is due yet. */
  unsettled?: boolean
  view?: Partial<SceneProps>
  /** Moves the parting by hand in the section. */
  onParting?: (height: number, settled: boolean) => void
  /** Leads the channels in the section. */
  hands?: Omit<ChannelHands, 'feet'> & { feetOf: (design: Design) => readonly Foot[] }
  /** Takes the place of the 3D view and the section. */
  instead?: ReactNode
  /** What is found on this stage, if not all that the study says of it. */
  found?: (ofStudy: Finding[]) => Finding[]
  /** The kept design worked out, where the stage draws its rubber. */
  build?: Build | null
}

/** The frame of a design stage: 3D, section with rail, what is set and what follows, findings. */
export function DesignStage({
  job,
  stage,
  rise,
  pour,
  caption,
  show,
  side,
  settled,
  view,
  onParting,
  hands,
  instead,
  found = (all) => all,
  build,
  unsettled = false,
}: Props) {
  const { design, study, problem } = useDesign()
  const hand = useHand()
  const remedy = useRemedies(job)
  const handle = useRef<ViewHandle>(null)
  const [marked, setMarked] = useState<readonly number[] | null>(null)
  const sounding = useSounding(job, study, rise, design.draw, build)
  // what the 3D view is given changes only when the picture does: it is drawn anew each time
  const filled = show === 'filled'
  const setCut = useCallbackRef(sounding.setOffset)
  const onAdd = useCallbackRef(view?.onAdd)
  const onChannel = useCallbackRef(view?.onChannel)

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
              <Viewer
                ref={handle}
                job={job}
                label={`${job.order.name} in its mould`}
                up={rise?.up ?? '+z'}
                box={study?.mould.box}
                places={study?.mould.places}
                tall={study?.gates.rise.top}
                floor={rise?.floor}
                gates={filled ? study?.gates : undefined}
                show={show}
                level={filled ? sounding.level : undefined}
                cut={filled ? sounding.cut : undefined}
                setCut={setCut}
                marked={marked}
                build={build}
                {...view}
                feet={filled ? hand.design.vents : undefined}
                onAdd={view?.onAdd && onAdd}
                onChannel={view?.onChannel && onChannel}
              />
              {study && !study.mould.known && (
                <p className={classes.noShape}>The shape is not known: the block that it goes into stands for it.</p>
              )}
            </section>
            <section className={classes.sounding} aria-label="Section and sounding rail">
              {study && rise && sounding.cut ? (
                <Sounding
                  study={study}
                  rise={rise}
                  pour={pour}
                  draw={design.draw}
                  parting={hand.design.parting ?? study.mould.parting}
                  {...sounding}
                  cut={sounding.cut}
                  onParting={onParting}
                  hands={hands && { onAdd: hands.onAdd, feet: hands.feetOf(hand.design) }}
                />
              ) : (
                <p className={classes.wait}>{problem ? '' : 'Working it out…'}</p>
              )}
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
      <Findings still={hand.moving} findings={findings} onShow={showPlace} onRemedy={remedy} settled={settled} unsettled={unsettled} />
    </>
  )
}
