import { NativeSelect } from '@mantine/core'
import type { BoxPlan, Design, Job } from '../../api/client'
import { opposite } from '../../parts/axes'
import { AxisPicker } from '../../parts/AxisPicker'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import classes from '../panel.module.css'
import { RubberPicker } from '../RubberPicker'
import { useDesign } from '../useDesign'
import mould from './mould.module.css'
import { Partings } from './Partings'
import { Templates } from './Templates'

/** Box: draw, ways up, parting and clearances, and what follows for rubber and boards. */
export function BoxPanel({ job }: { job: Job }) {
  const { design, study, set } = useDesign()
  const plan = study?.mould
  return (
    <>
      <h2>What you set</h2>
      <RubberPicker />
      <div className={classes.pair}>
        <AxisPicker label="Draw of half A" value={design.draw} onChange={(draw) => set({ draw, rubberUpA: draw, rubberUpB: opposite(draw), parting: null })} />
        <MeasureInput compact label="Parting, along the draw" kind="length" value={plan ? plan.parting : null} onChange={(parting) => set({ parting })} allowEmpty />
      </div>
      {plan && (
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
        <AxisPicker label="Up, half A" value={design.rubberUpA} onChange={(rubberUpA) => set({ rubberUpA })} />
        <AxisPicker label="Up, half B" value={design.rubberUpB} onChange={(rubberUpB) => set({ rubberUpB })} />
        <AxisPicker label="Up, resin" value={design.resinUp} onChange={(resinUp) => set({ resinUp })} />
        {(['beside', 'below', 'above'] as const).map((side) => (
          <MeasureInput key={side} compact label={`Clear ${side}`} kind="length" value={design.clearance[side]} onChange={(v) => v !== null && set((now) => ({ clearance: { ...now.clearance, [side]: v } }))} />
        ))}
      </div>
      {job.master?.kind === 'mesh' && (
        <>
          <Partings job={job} />
          <FormOfBox />
        </>
      )}
      {plan && (
        <>
          <h2>Rubber of each half{(design.gang?.length ?? 1) > 1 ? ', one cavity' : ''}</h2>
          <table className={classes.halves}>
            <thead>
              <tr>
                <td />
                <td>half A</td>
                <td>half B</td>
              </tr>
            </thead>
            <tbody>
              <tr>
                <th>Volume</th>
                {plan.halves.map((h) => (
                  <td key={h.name}>
                    <Num label={`Rubber in half ${h.name}`} number={h.volume} />
                  </td>
                ))}
              </tr>
              {plan.halves.every((h) => h.batch) && (
                <>
                  <tr>
                    <th>Mass to mix</th>
                    {plan.halves.map((h) => (
                      <td key={h.name}>
                        <Num label={`Mass for half ${h.name}`} number={h.batch!.mass} />
                      </td>
                    ))}
                  </tr>
                  <tr>
                    <th>Part A</th>
                    {plan.halves.map((h) => (
                      <td key={h.name}>
                        <Num label={`Part A for half ${h.name}`} number={h.batch!.a} />
                      </td>
                    ))}
                  </tr>
                  <tr>
                    <th>Part B</th>
                    {plan.halves.map((h) => (
                      <td key={h.name}>
                        <Num label={`Part B for half ${h.name}`} number={h.batch!.b} />
                      </td>
                    ))}
                  </tr>
                </>
              )}
            </tbody>
          </table>
          <h2>{(design.gang?.length ?? 1) > 1 ? `Box round ${design.gang!.length} cavities, inside` : 'Box, inside'}</h2>
          {study.boxProblem && <p role="alert" className={mould.bad}>{study.boxProblem}</p>}
          {study.box && <Seen box={study.box} />}
          {!study.box && (
            <>
              <Row label="Length">
                <Num label="Length of the box" number={plan.length} />
              </Row>
              <Row label="Width">
                <Num label="Width of the box" number={plan.width} />
              </Row>
            </>
          )}
          <Row label="Height">
            <Num label="Height of the box" number={study.box?.height ?? plan.height} />
          </Row>
          <Row label="Part">
            <Num label="Volume of the part" number={plan.partVolume} />
          </Row>
          <h2>Boards to cut</h2>
          {(study.box?.panels ?? plan.panels).map((p) => (
            <Row key={p.name} label={`${p.count} × ${p.name}`}>
              <Num label={p.name} number={p.a} /> <span className="soft">×</span> <Num label={p.name} number={p.b} />
            </Row>
          ))}
          {!study.box && <Templates label="Boards, 1:1" path={`/api/jobs/${job.id}/templates/boards`} />}
          {study.box && <p className={classes.hint}>Templates and the printed box are under Build.</p>}
        </>
      )}
    </>
  )
}

type Form = NonNullable<Design['box']>['form']
type KeyKind = NonNullable<Design['keys']>['kind']

/** The form of the box and its keys. */
function FormOfBox() {
  const { design, set } = useDesign()
  const box = design.box ?? { form: 'rectangle' as Form }
  const keys = design.keys ?? { kind: 'domes' as KeyKind }
  return (
    <>
      <div className={classes.pair}>
        <NativeSelect size="xs" label="Form" value={box.form} onChange={(e) => set({ box: { ...box, form: e.currentTarget.value as Form } })}
          data={[
            { value: 'rectangle', label: 'rectangle' },
            { value: 'sleeve', label: 'oval sleeve' },
            { value: 'contour', label: 'bent round the part' },
            { value: 'round', label: 'round, a pipe' },
            { value: 'own', label: "the shop's own" },
          ]} />
        <NativeSelect size="xs" label="Keys" value={keys.kind} onChange={(e) => set({ keys: { ...keys, kind: e.currentTarget.value as KeyKind } })}
          data={[
            { value: 'domes', label: 'domes' },
            { value: 'bars', label: 'half-round bars' },
            { value: 'pins', label: 'pins' },
            { value: 'bevel', label: 'bevelled rim' },
            { value: 'none', label: 'none' },
          ]} />
      </div>
      {box.form === 'own' && (
        <div className={classes.pair}>
          <MeasureInput compact label="Its width inside" kind="length" value={box.wide ?? null} onChange={(v) => v !== null && set((now) => ({ box: { ...(now.box ?? box), wide: v } }))} allowEmpty />
          <MeasureInput compact label="Its depth inside" kind="length" value={box.deep ?? null} onChange={(v) => v !== null && set((now) => ({ box: { ...(now.box ?? box), deep: v } }))} allowEmpty />
        </div>
      )}
    </>
  )
}

/** The box seen along the draw, with what its form spares. */
function Seen({ box }: { box: BoxPlan }) {
  const xs = box.ring.map((p) => p[0])
  const ys = box.ring.map((p) => -p[1])
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const path = (ring: number[][]) => `M${ring.map((p) => `${p[0].toFixed(2)} ${(-p[1]).toFixed(2)}`).join('L')}Z`
  return (
    <>
      <svg className={mould.seen} viewBox={`${x - 2} ${y - 2} ${Math.max(...xs) - x + 4} ${Math.max(...ys) - y + 4}`} role="img" aria-label={`${box.form} box seen along the draw`}>
        <path d={path(box.ring)} className={mould.block} />
        {box.cavities.map((c, i) => (
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
