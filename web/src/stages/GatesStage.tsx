import { Button, SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import type { Design } from '../api/client'
import { AxisPicker } from '../parts/AxisPicker'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import { Row } from '../parts/Row'
import { useShop } from '../parts/useShop'
import { DesignStage } from './DesignStage'
import type { StageProps } from './stages'
import classes from './panel.module.css'
import { useDesign } from './useDesign'
import { useKinds, useMould } from './useMould'
import { useRemedies } from './useRemedies'

/** Gates: how resin comes in and air goes out. */
export function GatesStage({ job }: StageProps) {
  const { design, study, set, tryOut } = useDesign()
  const shop = useShop()
  const remedy = useRemedies(job)
  const work = useMould(job)
  const feed = useKinds().find((k) => k.kind === study?.mould.kind)?.feed ?? 'sprued'
  const [adding, setAdding] = useState(false)

  const moved = (vents: Design['vents'], i: number, at: [number, number, number]) => vents.map((v, k) => (k === i ? { ...v, at } : v))
  const gates = study?.gates
  return (
    <DesignStage
      job={job}
      stage="gates"
      rise={study?.gates.rise}
      pour={{ liquid: 'resin' }}
      show="filled"
      build={work.build}
      settled="No air is shut in: every high spot has a way out."
      caption={
        <>
          <h2>The cavity, filled to the level</h2>
          {adding && <span className="soft">press on the part where the vent shall be</span>}
        </>
      }
      view={{
        adding,
        onAdd: (at) => {
          setAdding(false)
          set((now) => ({ vents: [...now.vents, { at, bore: now.ventBore }] }))
        },
        onVent: (i, at, settled) => {
          if (settled) set((now) => ({ vents: moved(now.vents, i, at) }))
          else tryOut({ vents: moved(design.vents, i, at) })
        },
      }}
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
            {feed !== 'poured' && <AxisPicker label="Up for the resin" value={design.resinUp} onChange={(resinUp) => set({ resinUp })} />}
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
          {job.master?.kind === 'mesh' && feed !== 'poured' && (
            <>
              <div className={classes.head}>
                <h2>Vents</h2>
                <Button size="compact-xs" variant={adding ? 'filled' : 'default'} aria-pressed={adding} onClick={() => setAdding(!adding)}>
                  Add vent
                </Button>
                <Button size="compact-xs" variant="default" onClick={() => remedy({ label: '', action: 'propose-vents', value: 0 })}>
                  Propose
                </Button>
              </div>
              <ul className={classes.vents} aria-label="Vents">
                {design.vents.map((v, i) => {
                  const channel = gates?.channels.find((c) => c.vent === i)
                  return (
                    <li key={i}>
                      <span>
                        {i + 1} <span className="soft">foot at</span> {channel ? <Qty value={channel.foot} kind="length" /> : '–'}
                      </span>
                      <span>
                        <span className="soft">bore</span> <Qty value={v.bore} kind="length" />
                        <button
                          type="button"
                          className={classes.remove}
                          aria-label={`Remove vent ${i + 1}`}
                          onClick={() => set((now) => ({ vents: now.vents.filter((_, k) => k !== i) }))}
                        >
                          ×
                        </button>
                      </span>
                    </li>
                  )
                })}
                {design.vents.length === 0 && <li className="soft">None yet. Press Propose, or Add vent and then the part.</li>}
              </ul>
              <MeasureInput
                compact
                label="Bore of new vents"
                kind="length"
                value={design.ventBore}
                onChange={(v) => v !== null && set({ ventBore: v })}
              />
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
              <Row label={<strong>Shot</strong>}>
                {study.shot.batch ? <Num label="Shot" number={study.shot.batch.mass} /> : <Num label="Shot" number={study.shot.total} />}
              </Row>
            </>
          )}
          <p className={classes.hint}>
            Dotted numbers open how they were worked out.
            {feed === 'sprued' && ' Drag a vent by its foot; double-press the part for a new one.'}
          </p>
        </>
      }
    />
  )
}
