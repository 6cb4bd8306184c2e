import { NativeSelect } from '@mantine/core'
import type { ReactNode } from 'react'
import type { BoxPlan, Derived, Design, Job, MouldPlan, Pour } from '../../api/client'
import { Broken } from '../../parts/Broken'
import { opposite } from '../../parts/axes'
import { WayPicker } from '../../parts/WayPicker'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import classes from '../panel.module.css'
import { RubberPicker } from '../RubberPicker'
import { useDesign } from '../useDesign'
import { useKinds, type MouldWork } from '../useMould'
import mould from './mould.module.css'
import { Partings } from './Partings'
import { Words } from '../../parts/Words'

/** Box: draw, ways up, parting and clearances, and what follows for rubber and boards. */
export function BoxPanel({ job, work, supports, line }: { job: Job; work: MouldWork; supports: ReactNode; line: ReactNode }) {
  const { design, study, set } = useDesign()
  const plan = study?.mould
  const feed = useKinds().find((k) => k.kind === plan?.kind)?.feed
  return (
    <>
      <h2>What you set</h2>
      <RubberPicker />
      <div className={classes.pair}>
        <WayPicker
          job={job}
          label={plan?.halves === false ? 'Draw' : 'Draw of half A'}
          value={design.draw}
          onChange={(draw) => set({ draw, rubberUpA: draw, rubberUpB: opposite(draw), parting: null })}
        />
        {plan?.parted !== false && (
          <MeasureInput
            compact
            label="Parting, along the draw"
            kind="length"
            signed
            value={design.parting ?? plan?.parting ?? null}
            onChange={(parting) => set({ parting })}
            allowEmpty
          />
        )}
      </div>
      {plan?.parted && (
        <p className={classes.hint}>
          {design.parting === null || design.parting === undefined ? 'Proposed: ' : 'Yours. Proposed is the height where '}
          {plan.proposalWhy}.{' '}
          {design.parting !== null && design.parting !== undefined && (
            <button type="button" className="quiet" onClick={() => set({ parting: null })}>
              take the proposal
            </button>
          )}
        </p>
      )}
      <div className={classes.triple}>
        <WayPicker
          job={job}
          label={plan?.halves === false ? 'Up, rubber' : 'Up, half A'}
          value={design.rubberUpA}
          onChange={(rubberUpA) => set({ rubberUpA })}
        />
        {plan?.halves !== false && (
          <WayPicker job={job} label="Up, half B" value={design.rubberUpB} onChange={(rubberUpB) => set({ rubberUpB })} />
        )}
        {feed !== 'poured' && <WayPicker job={job} label="Up, resin" value={design.resinUp} onChange={(resinUp) => set({ resinUp })} />}
        {(feed === 'poured' ? (['beside', 'above'] as const) : (['beside', 'below', 'above'] as const)).map((side) => (
          <MeasureInput
            key={side}
            compact
            label={`Clear ${side}`}
            kind="length"
            value={design.clearance[side]}
            onChange={(v) => v !== null && set((now) => ({ clearance: { ...now.clearance, [side]: v } }))}
          />
        ))}
      </div>
      {job.master?.kind === 'mesh' && plan?.parted && (
        <>
          <Partings job={job} />
          {line}
        </>
      )}
      <FormOfBox keyed={plan?.halves !== false} />
      {supports}
      <Filled />
      {plan && (
        <>
          <h2>Rubber{plan.cavities > 1 ? `, ${plan.cavities} cavities` : ''}</h2>
          <Rubber plan={work.build?.mould ?? plan} />
          {work.stage !== null && (
            <p role="status" className={classes.hint}>
              Dividing the rubber: {work.stage}…
            </p>
          )}
          <Broken problem={work.broken} again={work.again} />
          <h2>{plan.cavities > 1 ? `Box round ${plan.cavities} cavities, inside` : 'Box, inside'}</h2>
          <Seen box={plan.box} />
          <Row label="Height">
            <Num label="Height of the box" number={plan.box.height} />
          </Row>
          <Row label="Part">
            <Num label="Volume of the part" number={plan.part} />
          </Row>
          {plan.box.panels.length > 0 && <h2>Boards to cut</h2>}
          {plan.box.panels.map((p) => (
            <Row key={p.name} label={`${p.count} × ${p.name}`}>
              <Num label={p.name} number={p.a} /> <span className="soft">×</span> <Num label={p.name} number={p.b} />
            </Row>
          ))}
          <Words of={['parting', 'draw', 'key', 'box', 'clearance']} />
          <p className={classes.hint}>Templates and the printed box are under Build.</p>
        </>
      )}
    </>
  )
}

/** What is mixed for every pour. */
function Rubber({ plan }: { plan: MouldPlan }) {
  const row = (label: string, of: (p: Pour) => Derived | undefined) =>
    plan.pours.some((p) => of(p)) && (
      <tr>
        <th>{label}</th>
        {plan.pours.map((p) => {
          const n = of(p)
          return <td key={p.name}>{n ? <Num label={`${label} for ${p.name}`} number={n} /> : <span className="soft">–</span>}</td>
        })}
      </tr>
    )
  return (
    <>
      {plan.rubber && (
        <Row label="All of it">
          <Num label="Rubber of the mould" number={plan.rubber} />
        </Row>
      )}
      <table className={classes.halves}>
        <thead>
          <tr>
            <td />
            {plan.pours.map((p) => (
              <td key={p.name}>{p.name}</td>
            ))}
          </tr>
        </thead>
        <tbody>
          {row('Volume', (p) => p.volume)}
          {row('Mass to mix', (p) => p.batch?.mass)}
          {row('Part A', (p) => p.batch?.a)}
          {row('Part B', (p) => p.batch?.b)}
        </tbody>
      </table>
    </>
  )
}

type Form = NonNullable<Design['box']>['form']
type KeyKind = NonNullable<Design['keys']>['kind']

/** The form of the box and its keys. */
function FormOfBox({ keyed }: { keyed: boolean }) {
  const { design, set } = useDesign()
  const box = design.box ?? { form: 'rectangle' as Form }
  const keys = design.keys ?? { kind: 'domes' as KeyKind }
  return (
    <>
      <div className={classes.pair}>
        <NativeSelect
          size="xs"
          label="Form"
          value={box.form}
          onChange={(e) => set({ box: { ...box, form: e.currentTarget.value as Form } })}
          data={[
            { value: 'rectangle', label: 'rectangle' },
            { value: 'sleeve', label: 'oval sleeve' },
            { value: 'contour', label: 'bent round the part' },
            { value: 'follow', label: 'bent into its hollows' },
            { value: 'round', label: 'round, a pipe' },
            { value: 'own', label: "the shop's own" },
          ]}
        />
        {keyed && (
          <NativeSelect
            size="xs"
            label="Keys"
            value={keys.kind}
            onChange={(e) => set({ keys: { ...keys, kind: e.currentTarget.value as KeyKind } })}
            data={[
              { value: 'domes', label: 'domes' },
              { value: 'bars', label: 'half-round bars' },
              { value: 'pins', label: 'pins' },
              { value: 'strip', label: 'locking strip' },
              { value: 'bevel', label: 'bevelled rim' },
              { value: 'none', label: 'none' },
            ]}
          />
        )}
      </div>
      {box.form === 'own' && (
        <div className={classes.pair}>
          <MeasureInput
            compact
            label="Its width inside"
            kind="length"
            value={box.wide ?? null}
            onChange={(v) => v !== null && set((now) => ({ box: { ...(now.box ?? box), wide: v } }))}
            allowEmpty
          />
          <MeasureInput
            compact
            label="Its depth inside"
            kind="length"
            value={box.deep ?? null}
            onChange={(v) => v !== null && set((now) => ({ box: { ...(now.box ?? box), deep: v } }))}
            allowEmpty
          />
        </div>
      )}
    </>
  )
}

/** What the box takes, as it was filled with water or rice. */
function Filled() {
  const { design, set } = useDesign()
  const box = design.box ?? { form: 'rectangle' as Form }
  return (
    <>
      <div className={classes.pair}>
        <MeasureInput
          compact
          label="Filled with water or rice"
          kind="volume"
          value={box.filled ?? null}
          onChange={(v) => set((now) => ({ box: { ...(now.box ?? box), filled: v ?? undefined } }))}
          allowEmpty
        />
        <NativeSelect
          size="xs"
          label="When it was filled"
          value={box.empty ? 'empty' : 'with'}
          onChange={(e) => {
            const empty = e.currentTarget.value === 'empty'
            set((now) => ({ box: { ...(now.box ?? box), empty: empty || undefined } }))
          }}
          data={[
            { value: 'with', label: 'masters stood in it' },
            { value: 'empty', label: 'it was empty' },
          ]}
        />
      </div>
      {box.filled !== undefined && (
        <p className={classes.hint}>To the rubber’s level, poured into a measure. Box and cups bone dry before the pour.</p>
      )}
    </>
  )
}

/** The box seen from above, with what its form spares. */
function Seen({ box }: { box: BoxPlan }) {
  const xs = box.ring.map((p) => p[0])
  const ys = box.ring.map((p) => -p[1])
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const path = (ring: number[][]) => `M${ring.map((p) => `${p[0].toFixed(2)} ${(-p[1]).toFixed(2)}`).join('L')}Z`
  return (
    <>
      <svg
        className={mould.seen}
        viewBox={`${x - 2} ${y - 2} ${Math.max(...xs) - x + 4} ${Math.max(...ys) - y + 4}`}
        role="img"
        aria-label={`${box.form} box seen from above`}
      >
        <path d={path(box.ring)} className={mould.block} />
        {box.seen.map((c, i) => (
          <path key={i} d={path(c)} className={mould.cavity} />
        ))}
      </svg>
      <Row label={box.form === 'rectangle' || box.form === 'own' ? 'Length × width' : 'Over all'}>
        <Qty value={box.wide} kind="length" /> <span className="soft">×</span> <Qty value={box.deep} kind="length" />
      </Row>
      <Row label="Holds">
        <Num label="Volume of the box" number={box.volume} />
      </Row>
      {Math.abs(box.saved.value) > 0.05 && (
        <Row label={box.saved.value > 0 ? 'Spares against a rectangle' : 'More than a rectangle'}>
          <Num label="Rubber spared" number={box.saved} />
        </Row>
      )}
    </>
  )
}
