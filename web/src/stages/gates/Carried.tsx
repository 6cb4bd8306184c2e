import type { Study } from '../../api/client'
import { Num } from '../../parts/Num'
import classes from '../panel.module.css'

/** What each channel resists and carries as the pour begins. */
export function Carried({ gates }: { gates: Study['gates'] }) {
  const gang = gates.channels.some((c) => c.cavity > 0)
  const rows = gates.channels.filter((c) => c.resistance)
  if (rows.length === 0) return null
  return (
    <details className={classes.more}>
      <summary>Channel by channel</summary>
      <table className={classes.carried}>
        <thead>
          <tr>
            <th scope="col">channel</th>
            <th scope="col">share</th>
            <th scope="col">mL/s</th>
            <th scope="col">Pa s/m³</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((c, i) => (
            <tr key={i}>
              <th scope="row">
                {c.kind}
                {gang && c.cavity >= 0 && ` ${c.cavity + 1}`}
              </th>
              <td className="num">{Math.round((c.share ?? 0) * 100)} %</td>
              <td className="num">{(c.flow ?? 0).toPrecision(2)}</td>
              <td>
                <Num label={`Resistance of ${c.kind} ${i + 1}`} number={c.resistance!} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}
