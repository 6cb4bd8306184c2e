import { useRef, useState } from 'react'
import { Link } from 'react-router'
import type { Job, JobTaught } from '../../api/client'
import { day } from '../../parts/day'
import { Num, Qty } from '../../parts/Num'
import type { ViewHandle } from '../../parts/viewer/Scene'
import { Viewer } from '../../parts/viewer/Viewer'
import classes from './taught.module.css'

/** What the job's log teaches: whether the rack finishes it, which cavity alarms, what the scrap has in common. */
export function Taught({ job, taught: data, picking }: { job: Job; taught: JobTaught; picking: boolean }) {
  const { enough, causes, alarms, marks = [], light = [] } = data
  if (!enough && causes.length + alarms.length + marks.length + light.length === 0) return null
  return (
    <section aria-label="What the log teaches" className={classes.taught}>
      {enough && (
        <>
          <h2>Is it enough?</h2>
          <p>
            <span className="num">{data.wanted}</span> are still wanted: plan <Num number={enough.pulls} label="Pulls to plan" /> pulls. The
            moulds in use finish it with a chance of <Num number={enough.finish} label="Chance that it is enough" /> %.{' '}
            {enough.moulds > 0 && (
              <strong>
                Pour {enough.moulds} more {enough.moulds === 1 ? 'mould' : 'moulds'} to be sure.
              </strong>
            )}
            {enough.moulds === 0 && <strong>It is enough.</strong>}
            {enough.moulds < 0 && (
              <strong>Not even {enough.chances.length - 1} more moulds are enough: look at the yield, or at a gang.</strong>
            )}
          </p>
          <Chances chances={enough.chances} />
          {data.finishing && (
            <p>
              Finishing them takes <Num number={data.finishing} label="Time to finish what is still wanted" />.
            </p>
          )}
          {enough.next && (
            <p>
              <strong>{enough.next.says}</strong>{' '}
              <span className="soft">
                The rack gives <Num number={enough.next.lasts} label="Pulls that the rack gives" /> pulls in 95 of 100 cases, at{' '}
                <Num number={enough.next.pace} label="Pulls a day" /> a day
                {enough.next.days && enough.next.days.value > 0 && (
                  <>
                    : <Num number={enough.next.days} label="Days until it is to be poured" /> days
                  </>
                )}
                .
              </span>
            </p>
          )}
          {enough.rubbers && enough.rubbers.length > 0 && (
            <p className="soft">
              In a firmer rubber:{' '}
              {enough.rubbers.map((r, i) => (
                <span key={r.rubber}>
                  {i > 0 && '; '}
                  {r.rubber}: {r.moulds < 0 ? 'not enough either' : `${r.moulds} more`}
                  {r.life && (
                    <>
                      {' '}
                      (half of them outlast <Num number={r.life} label={`Life of a mould of ${r.rubber}`} /> pulls)
                    </>
                  )}
                </span>
              ))}
              .
            </p>
          )}
        </>
      )}
      {marks.length > 0 && job.master?.kind === 'mesh' && !picking && <Where job={job} taught={data} />}
      {alarms.length + light.length > 0 && (
        <>
          <h2>Look at these</h2>
          <ul>
            {light.map((c, i) => (
              <li key={`light ${i}`}>
                <p>
                  <span className={classes.watch}>▲</span> <Link to={`/rack/${c.mouldId}`}>{c.mould}</Link>, cavity {c.cavity} of{' '}
                  {day(c.pulled)}: <Qty value={c.weighed} kind="mass" />, <Num number={c.missing} label="What is missing" /> less than its
                  like
                  {c.void && (
                    <>
                      . That is a void of about <Num number={c.void} label="Void that it would be" /> inside, or a short fill
                    </>
                  )}
                  . Hold it against the light, or cut it.
                </p>
              </li>
            ))}
            {alarms.map((a) => (
              <li key={`${a.mould} ${a.cavity}`}>
                <p>
                  <span className={classes.watch}>▲</span> {a.mouldId ? <Link to={`/rack/${a.mouldId}`}>{a.mould}</Link> : a.mould}, cavity{' '}
                  {a.cavity}: more scrap than it should, its chart alarmed{' '}
                  {a.pulls === 0 ? 'at its last pull' : a.pulls === 1 ? '1 pull ago' : `${a.pulls} pulls ago`}.
                </p>
              </li>
            ))}
          </ul>
        </>
      )}
      {causes.length > 0 && (
        <>
          <h2>What the scrap has in common</h2>
          <ul>
            {causes.map((c) => (
              <li key={`${c.kind} ${c.of}`}>
                <p>
                  <strong>{c.says}</strong> {c.suggest} {c.kind === 'cavity' && <Link to={`/jobs/${job.id}/gates`}>To the vents</Link>}
                  {c.kind === 'run' && <Link to={`/jobs/${job.id}/shot`}>To the shot</Link>}
                  {c.kind === 'lot' && <Link to="/stock">To the lots</Link>}
                  {['heat', 'cold', 'damp'].includes(c.kind) && <Link to={`/jobs/${job.id}/shot`}>To the resin</Link>}{' '}
                  {c.mouldId && <Link to={`/rack/${c.mouldId}`}>To the mould</Link>}
                  <span className="soft">
                    {' '}
                    By chance {c.chance < 0.001 ? 'under 0.1' : (100 * c.chance).toPrecision(2)} % (exact test, corrected for {c.tried}{' '}
                    tried; one log in twenty is told something for nothing).
                  </span>
                </p>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

/** Where on the part the scrap is, and the spots at which it gathers. */
function Where({ job, taught }: { job: Job; taught: JobTaught }) {
  const { marks = [], places = [] } = taught
  const [open, setOpen] = useState(false)
  const [marked, setMarked] = useState<readonly number[] | null>(null)
  const view = useRef<ViewHandle>(null)
  const show = (at: readonly number[]) => {
    setOpen(true)
    setMarked(at)
    view.current?.lookAt(at)
  }
  return (
    <>
      <h2>Where the scrap is</h2>
      <ul>
        {places.map((p) => (
          <li key={p.says}>
            <p>
              <strong>{p.says}</strong>{' '}
              <button type="button" className="quiet" onClick={() => show(p.at)}>
                show it
              </button>{' '}
              {p.suggest} <Link to={`/jobs/${job.id}/gates`}>To the vents</Link>
              <span className="soft">
                {' '}
                By chance {p.chance < 0.001 ? 'under 0.1' : (100 * p.chance).toPrecision(2)} % (binomial by the share of the surface,
                corrected for {p.tried} tried).
              </span>
            </p>
          </li>
        ))}
        {places.length === 0 && (
          <li className="soft">
            {marks.length} marked, no spot of them more than chance. {marks.length < 6 && 'A few more will tell.'}
          </li>
        )}
      </ul>
      <button type="button" className="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'put the part away' : `show all ${marks.length} on the part`}
      </button>
      {open && (
        <div className={classes.where}>
          <Viewer
            ref={view}
            job={job}
            label="Where the scrap is, on the part"
            up="+z"
            show="part"
            spots={marks.map((m) => m.at)}
            marked={marked}
          />
        </div>
      )}
      <details>
        <summary>All that was marked</summary>
        <ul>
          {marks.map((m, i) => (
            <li key={i}>
              <p>
                <button type="button" className="quiet" onClick={() => show(m.at)}>
                  {m.mould}, cavity {m.cavity}: {m.defect}
                </button>
              </p>
            </li>
          ))}
        </ul>
      </details>
    </>
  )
}

/** The chance that the order is finished, by how many new moulds are poured. */
function Chances({ chances }: { chances: readonly number[] }) {
  const wide = 44
  const tall = 96
  const shown = chances.slice(0, 10)
  const y = (p: number) => tall - p * tall
  const says = shown.map((p, k) => `${k} more: ${Math.round(100 * p)} %`).join(', ')
  return (
    <svg
      className={classes.chances}
      viewBox={`-34 -14 ${shown.length * wide + 44} ${tall + 40}`}
      role="img"
      aria-label={`Chance to finish: ${says}`}
    >
      <line x1={0} x2={shown.length * wide} y1={y(0.95)} y2={y(0.95)} className={classes.sure} />
      <text x={-4} y={y(0.95) + 4} textAnchor="end">
        95 %
      </text>
      <line x1={0} x2={shown.length * wide} y1={tall} y2={tall} className={classes.axis} />
      {shown.map((p, k) => (
        <g key={k}>
          <rect x={k * wide + 6} width={wide - 12} y={y(p)} height={p * tall} className={p >= 0.95 ? classes.enough : classes.short} />
          <text x={k * wide + wide / 2} y={y(p) - 3} textAnchor="middle">
            {Math.round(100 * p)}
          </text>
          <text x={k * wide + wide / 2} y={tall + 14} textAnchor="middle">
            {k === 0 ? 'rack' : `+${k}`}
          </text>
        </g>
      ))}
    </svg>
  )
}
