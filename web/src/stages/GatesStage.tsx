import { SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import type { Design } from '../api/client'
import { WayPicker } from '../parts/WayPicker'
import { dir } from '../parts/axes'
import { MeasureInput } from '../parts/MeasureInput'
import { Num } from '../parts/Num'
import { Row } from '../parts/Row'
import { useShop } from '../parts/useShop'
import { DesignStage } from './DesignStage'
import { Faces, type Press } from './gates/Faces'
import { FeedTable } from './gates/FeedTable'
import { Carried } from './gates/Carried'
import { FewToMany } from './gates/FewToMany'
import { feetOf, ledTo } from './gates/feet'
import { Shapes } from './gates/Shapes'
import { TiltTable } from './gates/TiltTable'
import { Vents } from './gates/Vents'
import { WayIn } from './gates/WayIn'
import type { StageProps } from './stages'
import classes from './panel.module.css'
import { useDesign } from './useDesign'
import { useKinds, useMould } from './useMould'
import { useRemedies } from './useRemedies'
import { Words } from '../parts/Words'

/** Gates: how resin comes in and air goes out. */
export function GatesStage({ job }: StageProps) {
  const { design, study, set, tryOut } = useDesign()
  const shop = useShop()
  const remedy = useRemedies(job)
  const work = useMould(job)
  const feed = useKinds().find((k) => k.kind === study?.mould.kind)?.feed ?? 'sprued'
  const [press, setPress] = useState<Press | null>(null)

  const add = (at: [number, number, number]) => {
    setPress(null)
    if (press === null || press === 'vent') set((now) => ({ vents: [...now.vents, { at, bore: now.ventBore }] }))
    else set((now) => ({ faces: [...(now.faces ?? []), { at, show: press === 'show' }] }))
  }
  const put = (change: Partial<Design>, settled: boolean) => (settled ? set(change) : tryOut(change))
  const vented = job.master?.kind === 'mesh' && feed === 'sprued'
  const gates = study?.gates
  return (
    <DesignStage
      job={job}
      stage="gates"
      rise={study?.gates.rise}
      pour={{ liquid: 'resin' }}
      show="filled"
      build={work.build}
      found={(ofStudy) => {
        const said = new Set(ofStudy.map((f) => f.what))
        return [...ofStudy, ...(work.build?.findings ?? []).filter((f) => f.stage === 'gates' && !said.has(f.what))]
      }}
      settled="No air is shut in: every high spot has a way out."
      caption={
        <>
          <h2>The cavity, filled to the level</h2>
          {press && (
            <span className="soft">{press === 'vent' ? 'press on the part where the vent shall be' : 'press on the face of the part'}</span>
          )}
        </>
      }
      view={{
        adding: press !== null,
        onAdd: add,
        onChannel: feed === 'sprued' ? (what, at, settled) => put(ledTo(design, what, at), settled) : undefined,
        spots: (design.faces ?? []).map((f) => f.at),
      }}
      hands={vented && study ? { onAdd: add, feetOf: (now) => feetOf(now, study, put) } : undefined}
      side={
        <>
          <h2>What you set</h2>
          {feed === 'poured' && <p className={classes.hint}>Resin is poured into the open face: no sprue, no vents.</p>}
          {feed === 'pressed' && (
            <p className={classes.hint}>Resin is pressed between the halves: no sprue; a blind channel takes what is squeezed out.</p>
          )}
          {feed === 'sprued' && (
            <SegmentedControl
              fullWidth
              size="xs"
              aria-label="Feed"
              value={design.feed}
              onChange={(feed) =>
                set({
                  feed: feed as 'low' | 'top',
                  sprueBore: feed === 'top' ? (shop?.practice.topBore ?? design.sprueBore) : (shop?.practice.sprueBore ?? design.sprueBore),
                })
              }
              data={[
                { value: 'low', label: 'Feed low, vents above' },
                { value: 'top', label: 'Feed from the top' },
              ]}
            />
          )}
          <div className={classes.pair}>
            {feed !== 'poured' && (
              <WayPicker job={job} label="Up for the resin" value={design.resinUp} onChange={(resinUp) => set({ resinUp })} />
            )}
            {feed === 'sprued' && (
              <>
                <MeasureInput
                  compact
                  label={design.feed === 'top' ? 'Opening bore' : 'Sprue bore'}
                  kind="length"
                  value={design.sprueBore}
                  onChange={(v) => v !== null && set({ sprueBore: v })}
                />
                <MeasureInput
                  compact
                  label="Well rim"
                  kind="length"
                  value={design.wellWidth}
                  onChange={(v) => v !== null && set({ wellWidth: v })}
                />
                <MeasureInput
                  compact
                  label="Well depth"
                  kind="length"
                  value={design.wellDepth}
                  onChange={(v) => v !== null && set({ wellDepth: v })}
                />
              </>
            )}
          </div>
          {feed === 'sprued' && gates && study && <WayIn gates={gates} place={study.mould.places[0]} up={dir(design.resinUp)} />}
          {feed === 'sprued' && design.feed === 'low' && <Shapes />}
          {feed === 'sprued' && design.feed === 'low' && (design.gang ?? []).length > 1 && <FeedTable job={job} at={gates?.system} />}
          {vented && (
            <>
              <Vents
                gates={gates}
                adding={press === 'vent'}
                setAdding={(adding) => setPress(adding ? 'vent' : null)}
                propose={() => remedy({ label: '', action: 'propose-vents', value: 0 })}
              />
              {gates?.known && <FewToMany job={job} />}
              {gates?.known && <TiltTable job={job} />}
              <Faces press={press} setPress={setPress} />
              <MeasureInput
                compact
                label="Bore of new vents"
                kind="length"
                value={design.ventBore}
                onChange={(v) => v !== null && set({ ventBore: v })}
              />
            </>
          )}
          {feed !== 'poured' && work.build && work.build.extras.length > 0 && (
            <>
              <h2>How it closes</h2>
              {work.build.extras.map((e) => (
                <Row key={e.name} label={e.name}>
                  <Num label={e.name} number={e.number} />
                </Row>
              ))}
            </>
          )}
          {study && (
            <>
              <h2>What follows</h2>
              {gates?.known && (
                <Row label="Air left in">
                  <Num label="Air left in" number={gates.trapped} className={gates.trapped.value >= 0.0005 ? classes.air : undefined} />
                </Row>
              )}
              {study.shot.lines.map((line) => (
                <Row key={line.name} label={line.name}>
                  <Num label={line.name} number={line.volume} />
                </Row>
              ))}
              {feed === 'sprued' && gates && (
                <Row label="Scar to dress">
                  <Num label="Scar to dress" number={gates.scar} />, <Num rough label="Minutes to dress" number={gates.dress} /> min
                </Row>
              )}
              <Row label={<strong>Shot</strong>}>
                {study.shot.batch ? <Num label="Shot" number={study.shot.batch.mass} /> : <Num label="Shot" number={study.shot.total} />}
              </Row>
              {gates && <Carried gates={gates} />}
              {gates?.run && (
                <>
                  <h2>How it runs</h2>
                  <MeasureInput
                    compact
                    allowEmpty
                    label="To be full within"
                    kind="number"
                    unit="min"
                    value={design.within || null}
                    onChange={(v) => set({ within: v || undefined })}
                  />
                  {gates.run.map((n) => (
                    <Row key={n.name} label={n.name}>
                      <Num label={n.name} number={n.number} rough={n.name === 'Full after, min'} />
                    </Row>
                  ))}
                </>
              )}
            </>
          )}
          <Words of={['sprue', 'ring', 'vent', 'high spot', 'blind channel', 'sounding']} />
          <p className={classes.hint}>
            Dotted numbers open how they were worked out.
            {feed === 'sprued' && ' Drag a vent or the gate by its foot, the sprue by its head; double-press the part for a new vent.'}
          </p>
        </>
      }
    />
  )
}
