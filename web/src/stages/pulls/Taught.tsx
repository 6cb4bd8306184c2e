import { Link } from 'react-router'
import type { Job, JobTaught } from '../../api/client'
import { Num } from '../../parts/Num'
import classes from './taught.module.css'

/** What the job's log teaches: whether the rack finishes it, which cavity alarms, what the scrap has in common. */
export function Taught({ job, taught: data }: { job: Job; taught: JobTaught }) {
  const { enough, causes, alarms } = data
  if (!enough && causes.length === 0 && alarms.length === 0) return null
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
        </>
      )}
      {alarms.length > 0 && (
        <>
          <h2>Look at these</h2>
          <ul>
            {alarms.map((a) => (
              <li key={`${a.mould} ${a.cavity}`}>
                <span className={classes.watch}>▲</span> {a.mouldId ? <Link to={`/rack/${a.mouldId}`}>{a.mould}</Link> : a.mould}, cavity{' '}
                {a.cavity}: more scrap than it should, its chart alarmed {a.pulls === 0 ? 'at its last pull' : `${a.pulls} pulls ago`}.
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
                <strong>{c.says}</strong> {c.suggest} {c.kind === 'cavity' && <Link to={`/jobs/${job.id}/gates`}>To the vents</Link>}
                {c.kind === 'run' && <Link to={`/jobs/${job.id}/shot`}>To the shot</Link>}
                <span className="soft">
                  {' '}
                  By chance {c.chance < 0.001 ? 'under 0.1' : (100 * c.chance).toPrecision(2)} % (exact test, corrected for {c.tried} tried;
                  one log in twenty is told something for nothing).
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
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
