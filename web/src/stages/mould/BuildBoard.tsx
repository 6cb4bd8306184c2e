import { Button } from '@mantine/core'
import { useState } from 'react'
import type { Build, Job } from '../../api/client'
import { Broken } from '../../parts/Broken'
import { Num, Qty } from '../../parts/Num'
import { Picture } from '../../parts/Picture'
import { Standing } from '../../parts/WayPicker'
import { useDesign } from '../useDesign'
import classes from './board.module.css'
import { moment } from './BuildPanel'
import { KindTable } from '../KindTable'
import type { MouldWork } from '../useMould'

/** The build on one sheet: ways up, pours, steps with their times; or all kinds side by side. */
export function BuildBoard({ job, work }: { job: Job; work: MouldWork }) {
  const [comparing, setComparing] = useState(false)
  const { build } = work
  const { set } = useDesign()
  return (
    <div className={classes.board}>
      <div className={classes.head}>
        <h2>{comparing ? 'All kinds for this order' : (build?.mould.name ?? 'The build')}</h2>
        <Button size="compact-sm" variant="default" onClick={() => setComparing(!comparing)}>
          {comparing ? 'Back to the build' : 'Compare kinds'}
        </Button>
      </div>
      {comparing ? (
        <KindTable
          job={job}
          at={build?.mould.kind}
          onPick={(kind) => {
            set({ kind })
            setComparing(false)
          }}
        />
      ) : build ? (
        <Sheet job={job} build={build} />
      ) : (
        <>
          <p className="soft">{work.stage ? `Working it out: ${work.stage}…` : ''}</p>
          <Broken problem={work.broken} again={work.again} />
        </>
      )}
    </div>
  )
}

function Sheet({ job, build }: { job: Job; build: Build }) {
  return (
    <>
      <section className={classes.strip} aria-label="Ways up">
        {build.attitudes.map((a) => (
          <Picture key={a.name} drawing={a} />
        ))}
        <Picture drawing={build.plan} />
      </section>
      <h3>Rubber, in the order it is poured</h3>
      <Pours job={job} build={build} />
      <h3>Steps</h3>
      <ol className={classes.steps}>
        {build.steps.map((s, i) => (
          <li key={i} data-wait={s.wait || undefined} data-casting={s.casting || undefined}>
            <span className={classes.when}>{moment(s.from)}</span>
            <span>
              <strong>{s.do}</strong>{' '}
              <span className="num">{s.minutes >= 90 ? `${(s.minutes / 60).toFixed(1)} h` : `${Math.round(s.minutes)} min`}</span>
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
export function Pours({ job, build }: { job: Job; build: Build }) {
  return (
    <div className={classes.scroll}>
      <table className={classes.pours}>
        <thead>
          <tr>
            <th>pour</th>
            <th>to mix</th>
            <th>part A</th>
            <th>part B</th>
            <th>mixes</th>
            <th>stands up to</th>
            <th>pour to</th>
            <th>up</th>
          </tr>
        </thead>
        <tbody>
          {build.mould.pours.map((p) => (
            <tr key={p.name}>
              <th>{p.name}</th>
              <td>{p.mixed && <Num label={`To mix for ${p.name}`} number={p.mixed} />}</td>
              <td>{p.batch ? <Num label={`Part A of ${p.name}`} number={p.batch.a} /> : <span className="soft">choose a rubber</span>}</td>
              <td>{p.batch && <Num label={`Part B of ${p.name}`} number={p.batch.b} />}</td>
              <td>{p.mixes && <Num label={`Mixes for ${p.name}`} number={p.mixes} />}</td>
              <td>{p.bed > 0 ? <Qty value={p.bed} kind="length" /> : '–'}</td>
              <td>{p.level > 0 ? <Qty value={p.level} kind="length" /> : '–'}</td>
              <td>
                <span className={classes.stands}>
                  <Standing job={job} up={p.up} />
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
