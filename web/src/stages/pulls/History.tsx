import { api, type Mould, type Pull } from '../../api/client'
import { day, moment } from '../../parts/day'
import { Qty } from '../../parts/Num'
import classes from '../plain.module.css'

/** What an entry said until it was put right. */
export function PullHistory({ pull }: { pull: Pull }) {
  const was = api.useQuery('get', '/pulls/{pullId}/history', { params: { path: { pullId: pull.id } } }).data
  return (
    <ul className={classes.was} aria-label="What it said before">
      {(was ?? []).map((w) => (
        <li key={w.until}>
          <span className="soft">until {moment(new Date(w.until))}:</span> {day(w.was.pulled)}
          {typeof w.was.massA === 'number' && (
            <>
              , A <Qty value={w.was.massA} kind="mass" />
            </>
          )}
          {typeof w.was.massB === 'number' && (
            <>
              , B <Qty value={w.was.massB} kind="mass" />
            </>
          )}
          , {w.was.results.map((r) => (r.good ? '✓' : `${r.second ? '◇' : '◆'} ${r.defect}`)).join(' ')}
          {w.was.notes && <span className="soft"> {w.was.notes}</span>}
        </li>
      ))}
    </ul>
  )
}

/** What was entered of a mould until it was put right. */
export function MouldHistory({ mould }: { mould: Mould }) {
  const was = api.useQuery('get', '/moulds/{mouldId}/history', { params: { path: { mouldId: mould.id } } }).data
  return (
    <ul className={classes.was} aria-label="What it said before">
      {(was ?? []).map((w) => (
        <li key={w.until}>
          <span className="soft">until {moment(new Date(w.until))}:</span> {w.was.number}, {w.was.rubber}, poured {day(w.was.poured)},{' '}
          {w.was.cavities === 1 ? '1 cavity' : `${w.was.cavities} cavities`}
          {w.was.birth && `, ${w.was.birth.join(', ') || 'clean at the first look'}`}
          {w.was.place && `, stood at ${w.was.place}`}
        </li>
      ))}
    </ul>
  )
}
