import type { Study } from '../../api/client'
import { Num, Qty } from '../../parts/Num'
import classes from '../panel.module.css'

/** The channels one by one: rods and wires to cut, and what each carries as the pour begins. */
export function Carried({ gates }: { gates: Study['gates'] }) {
  const gang = gates.channels.some((c) => c.cavity > 0)
  const rows = gates.channels.filter((c) => !(c.kind === 'blind' && c.cavity >= 0)) // one round a squeezed part is cut into its half
  const runs = rows.some((c) => c.resistance)
  if (rows.length === 0) return null
  return (
    <details className={classes.more}>
      <summary>Rods and wires to cut</summary>
      <table className={classes.carried}>
        <thead>
          <tr>
            <th scope="col">channel</th>
            <th scope="col">bore</th>
            <th scope="col">length</th>
            {runs && <th scope="col">share</th>}
            {runs && <th scope="col">Pa s/mL</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map((c, i) => (
            <tr key={i}>
              <th scope="row">
                {c.kind === 'blind' ? 'blind channel' : c.kind}
                {c.kind === 'vent' && ` ${c.vent + 1}`}
                {c.kind === 'overflow' && ` on vent ${c.vent + 1}`}
                {c.cut && ', cut'}
                {gang && c.cavity >= 0 && ` of ${c.cavity + 1}`}
              </th>
              <td>
                <Qty value={c.bore} kind="length" />
                {c.section === 'half' && ' half round'}
                {c.section === 'strip' && (
                  <>
                    {' by '}
                    <Qty value={c.thick} kind="length" />
                  </>
                )}
                {c.rim > 0 && (
                  <>
                    {' to '}
                    <Qty value={c.rim} kind="length" />
                  </>
                )}
              </td>
              <td>
                <Qty value={c.length} kind="length" />
              </td>
              {runs && <td className="num">{c.share === undefined ? '' : `${Math.round(c.share * 100)} %`}</td>}
              {runs && <td>{c.resistance && <Num label={`Resistance of channel ${i + 1}, ${c.kind}`} number={c.resistance} />}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}
