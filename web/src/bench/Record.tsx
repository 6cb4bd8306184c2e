import type { Session } from '../api/client'
import { Num, Qty } from '../parts/Num'
import classes from './bench.module.css'

const time = (at: number) => new Date(at * 1000).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' })

/** What was done when, as it was weighed. */
export function Record({ session }: { session: Session }) {
  return (
    <>
      <table className={classes.record}>
        <thead>
          <tr>
            <th scope="col">at</th>
            <th scope="col">what</th>
            <th scope="col">as weighed</th>
            <th scope="col">who</th>
          </tr>
        </thead>
        <tbody>
          {session.records.map((r, i) => (
            <tr key={i}>
              <td className="num">{time(r.at)}</td>
              <td>{r.says}</td>
              <td>{r.figure && <Num number={r.figure} label={r.says} />}</td>
              <td>{r.who}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {session.cups.map((c) => (
        <p key={c.name}>
          {c.name}:{' '}
          {c.parts.map((p, i) => (
            <span key={p.name}>
              {i > 0 && ' + '}
              {p.name} {p.weighed === undefined ? '–' : p.drops ? `${p.weighed} drops` : <Qty value={p.weighed} kind="mass" />}
              {p.byHand && ' by hand'}
            </span>
          ))}
          {c.gone && ' · gelled in the cup'}
          {c.unsure !== undefined && (
            <>
              {' '}
              · ratio sure to <span className="num">{c.unsure} %</span>
            </>
          )}
          {c.over !== undefined && c.over > 0 && (
            <>
              {' '}
              · <Qty value={c.over} kind="mass" /> over
            </>
          )}
        </p>
      ))}
    </>
  )
}
