import type { Job } from '../../api/client'
import { opposite } from '../../parts/axes'
import { AxisPicker } from '../../parts/AxisPicker'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num } from '../../parts/Num'
import { Row } from '../../parts/Row'
import classes from '../panel.module.css'
import { RubberPicker } from '../RubberPicker'
import { useDesign } from '../useDesign'
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
      {plan && (
        <>
          <h2>Rubber of each half</h2>
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
          <h2>Box, inside</h2>
          <Row label="Length">
            <Num label="Length of the box" number={plan.length} />
          </Row>
          <Row label="Width">
            <Num label="Width of the box" number={plan.width} />
          </Row>
          <Row label="Height">
            <Num label="Height of the box" number={plan.height} />
          </Row>
          <Row label="Part">
            <Num label="Volume of the part" number={plan.partVolume} />
          </Row>
          <h2>Boards to cut</h2>
          {plan.panels.map((p) => (
            <Row key={p.name} label={`${p.count} × ${p.name}`}>
              <Num label={p.name} number={p.a} /> <span className="soft">×</span> <Num label={p.name} number={p.b} />
            </Row>
          ))}
          <Templates label="Boards, 1:1" path={`/api/jobs/${job.id}/templates/boards`} />
          {job.master?.kind === 'mesh' && <Templates label="Parting board, 1:1" path={`/api/jobs/${job.id}/templates/parting-board`} />}
        </>
      )}
    </>
  )
}
