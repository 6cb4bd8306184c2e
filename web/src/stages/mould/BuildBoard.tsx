import { Button, Loader } from '@mantine/core'
import { useState } from 'react'
import type { Build, Job, KindRow, KindSearch } from '../../api/client'
import { Num, Qty } from '../../parts/Num'
import { Picture } from '../../parts/Picture'
import { useSearch } from '../master/useSearch'
import { useDesign } from '../useDesign'
import classes from './board.module.css'
import { moment } from './BuildPanel'
import { hash, type BuildWork } from './useBuild'

/** The build on one sheet: ways up, pours, steps with their times; or all kinds side by side. */
export function BuildBoard({ job, work }: { job: Job; work: BuildWork }) {
  const [comparing, setComparing] = useState(false)
  const { build } = work
  return (
    <div className={classes.board}>
      <div className={classes.head}>
        <h2>{comparing ? 'All kinds for this order' : (build?.name ?? 'The build')}</h2>
        <Button size="compact-sm" variant="default" onClick={() => setComparing(!comparing)}>{comparing ? 'Back to the build' : 'Compare kinds'}</Button>
      </div>
      {comparing ? <Kinds job={job} at={work.kind} onPick={() => setComparing(false)} /> : build ? <Sheet build={build} /> : <p className="soft">{work.stage ? `Working it out: ${work.stage}…` : 'Work it out at the right.'}</p>}
    </div>
  )
}

function Sheet({ build }: { build: Build }) {
  return (
    <>
      <section className={classes.strip} aria-label="Ways up">
        {build.attitudes.map((a) => <Picture key={a.name} drawing={a} />)}
        <Picture drawing={build.plan} />
      </section>
      <h3>Rubber, in the order it is poured</h3>
      <Pours build={build} />
      <h3>Steps</h3>
      <ol className={classes.steps}>
        {build.steps.map((s, i) => (
          <li key={i} data-wait={s.wait || undefined}>
            <span className={classes.when}>{moment(s.from)}</span>
            <span>
              <strong>{s.do}</strong> <span className="num">{s.minutes >= 90 ? `${(s.minutes / 60).toFixed(1)} h` : `${Math.round(s.minutes)} min`}</span>
              {s.why && <em>{s.why}</em>}
              {s.caution && <em className={classes.caution}>▲ {s.caution}</em>}
            </span>
          </li>
        ))}
      </ol>
    </>
  )
}

/** The pours as a table that goes on the scale. */
export function Pours({ build }: { build: Build }) {
  return (
    <div className={classes.scroll}>
      <table className={classes.pours}>
        <thead>
          <tr><th>pour</th><th>to mix</th><th>part A</th><th>part B</th><th>mixes</th><th>stands up to</th><th>pour to</th><th>up</th></tr>
        </thead>
        <tbody>
          {build.pours.map((p) => (
            <tr key={p.name}>
              <th>{p.name}</th>
              <td><Num label={`To mix for ${p.name}`} number={p.mixed} /></td>
              <td>{p.batch ? <Num label={`Part A of ${p.name}`} number={p.batch.a} /> : <span className="soft">choose a rubber</span>}</td>
              <td>{p.batch && <Num label={`Part B of ${p.name}`} number={p.batch.b} />}</td>
              <td><Num label={`Mixes for ${p.name}`} number={p.mixes} /></td>
              <td>{p.bed > 0 ? <Qty value={p.bed} kind="length" /> : '–'}</td>
              <td>{p.level > 0 ? <Qty value={p.level} kind="length" /> : '–'}</td>
              <td className="num">{p.up}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

interface Gathered {
  stage: string
  finished: boolean
  rows: KindRow[]
}

/** Every kind of mould for this design, each built to the end, the least effort first. */
function Kinds({ job, at, onPick }: { job: Job; at: string; onPick: () => void }) {
  const { design, set, keeping } = useDesign()
  const [stopped, setStopped] = useState(false)
  const version = hash(JSON.stringify([{ ...design, kind: null }, job.master?.mesh?.key]))
  const found = useSearch<Gathered & KindSearch>(stopped || keeping === 'keeping' ? null : `/api/jobs/${job.id}/searches/kinds?v=${version}`,
    (sofar, news) => ({ ...news, rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []) }), () => setStopped(true))
  const rows = [...(found?.rows ?? [])].sort((a, b) => rank(a) - rank(b))
  return (
    <>
      {!found?.finished && !stopped && (
        <p role="status" className={classes.status}><Loader size="xs" /> {found?.stage ?? 'beginning'}… <Button size="compact-xs" variant="default" onClick={() => setStopped(true)}>Stop</Button></p>
      )}
      <div className={classes.scroll}>
        <table className={classes.pours}>
          <thead>
            <tr><th>kind</th><th>pieces</th><th>rubber</th><th>work</th><th>curing</th><th>finishing, min</th><th>moulds</th><th>order, as hours</th><th>first pull</th></tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.kind} data-at={r.kind === at || undefined}>
                <th>
                  <button type="button" className="quiet" disabled={!!r.error} onClick={() => { set({ kind: r.kind }); onPick() }}>{r.name}</button>
                  {r.stops > 0 && <div className={classes.stop}>◆ {r.why}</div>}
                  {r.error && <div className={classes.stop}>{r.error}</div>}
                </th>
                {!r.error && r.rubber && (
                  <>
                    <td className="num">{r.pieces}</td>
                    <td><Num label={`Rubber as ${r.name}`} number={r.rubber} /></td>
                    <td><Num label={`Work as ${r.name}`} number={r.hands!} /></td>
                    <td><Num label={`Curing as ${r.name}`} number={r.waits!} /></td>
                    <td><Num label={`Finishing as ${r.name}`} number={r.finish!} /></td>
                    <td><Num label={`Moulds as ${r.name}`} number={r.moulds!} /></td>
                    <td><Num label={`Order as ${r.name}`} number={r.effort!} /></td>
                    <td>{r.firstPull ? moment(r.firstPull) : '–'}</td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="soft">Rubber counts as work, 1.4 h a litre, so that one figure ranks them; minutes are common practice, no source.</p>
    </>
  )
}

const rank = (r: KindRow) => (r.error ? 1e9 : 0) + (r.stops > 0 ? 1e6 : 0) + (r.effort?.value ?? 0)
