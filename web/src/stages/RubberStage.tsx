import { SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import type { Build, Finding } from '../api/client'
import { Findings } from '../parts/Findings'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import { Row } from '../parts/Row'
import { Sounding } from '../parts/Sounding'
import { useSounding } from '../parts/useSounding'
import { useRemedies } from './DesignStage'
import type { StageProps } from './stages'
import { RubberPicker } from './RubberPicker'
import classes from './plain.module.css'
import { moment } from './mould/BuildPanel'
import { kindNames, useBuild } from './mould/useBuild'
import { useDesign } from './useDesign'

/** Rubber: what goes on the scale for each pour of the mould. */
export function RubberStage({ job }: StageProps) {
  const { design, study, set, problem } = useDesign()
  const remedy = useRemedies(job)
  const [half, setHalf] = useState<0 | 1>(0)
  const rise = study?.mould.pours[half]
  const sounding = useSounding(job, study, rise, design.draw)
  const work = useBuild(job, true)
  const findings: Finding[] = [...(study?.findings ?? []), ...(work.build?.findings ?? [])].filter((f) => f.stage === 'rubber')
  return (
    <>
      <main className={classes.page}>
        <section className={classes.column}>
          <h2>What you set</h2>
          <div className={classes.form}>
            <RubberPicker />
            <MeasureInput compact label="Stays in the bucket" kind="number" unit="%" value={design.rubberOver} onChange={(v) => v !== null && set({ rubberOver: v })} />
          </div>
          {problem && <p role="alert">{problem.detail}</p>}
          {work.build && <BuiltPours build={work.build} />}
          {work.stage !== null && <p role="status" className="soft">Working out the pours: {work.stage}…</p>}
          {!work.build && study?.mould.halves.map((half, i) => (
            <div key={half.name} className={classes.pour}>
              <h2>{i === 0 ? 'First pour, half A' : 'Second pour, half B'}</h2>
              <p className="soft">
                {i === 0 ? 'Master bedded up to the parting, ' : 'Mould turned over, clay off, release on all rubber; '}
                {half.up} up.
              </p>
              {half.batch ? (
                <div className={classes.weights}>
                  <div>
                    <span>Part A</span>
                    <Num label={`Part A for half ${half.name}`} number={half.batch.a} className={classes.big} />
                  </div>
                  <div>
                    <span>Part B</span>
                    <Num label={`Part B for half ${half.name}`} number={half.batch.b} className={classes.big} />
                  </div>
                  <div>
                    <span>Together</span>
                    <Num label={`Rubber for half ${half.name}`} number={half.batch.mass} className={classes.big} />
                  </div>
                  {half.batch.volumeA && half.batch.volumeB && (
                    <div>
                      <span>or by volume, A and B</span>
                      <Num label={`Volume of part A for half ${half.name}`} number={half.batch.volumeA} /> <Num label={`Volume of part B for half ${half.name}`} number={half.batch.volumeB} />
                    </div>
                  )}
                </div>
              ) : (
                <div className={classes.weights}>
                  <div>
                    <span>Volume; choose a rubber for the weights</span>
                    <Num label={`Rubber in half ${half.name}`} number={half.volume} className={classes.big} />
                  </div>
                </div>
              )}
            </div>
          ))}
          <h2>Take care</h2>
          <ul className={classes.cautions}>
            {study?.cautions.rubber.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <h2>At the pour</h2>
          <p>
            Stir both parts in their cans. Scrape sides and bottom, pour into a second cup and mix again. A thin, high stream into a low corner, never on the part. Do not open before the left-over in the cup is hard and dry.
          </p>
        </section>
        <section className={classes.sounding} aria-label="Section and sounding rail">
          <SegmentedControl size="xs" aria-label="Pour shown" value={String(half)} onChange={(v) => setHalf(v === '1' ? 1 : 0)}
            data={[
              { value: '0', label: 'first pour, half A' },
              { value: '1', label: 'second pour, half B' },
            ]} />
          {study && rise && sounding.cut && <Sounding study={study} rise={rise} pour={{ liquid: 'rubber', half }} draw={design.draw} {...sounding} cut={sounding.cut} />}
        </section>
      </main>
      <Findings findings={findings} onRemedy={remedy} settled="The scale is fine enough for both pours." />
    </>
  )
}

/** The pours of the mould as it is built, in their order, for the scale. */
function BuiltPours({ build }: { build: Build }) {
  const starts = build.steps.filter((s) => s.pour >= 0)
  return (
    <>
      <p className="soft">
        {kindNames[build.kind]}
        {build.cavities > 1 && `, ${build.cavities} cavities`}. First pull {moment(build.firstPull)}.
      </p>
      {build.pours.map((p, i) => (
        <div key={p.name} className={classes.pour}>
          <h2>{p.name}</h2>
          <p className="soft">
            {p.up} up{starts[i] && `, from ${moment(starts[i].from)}`}. {p.spot}
          </p>
          {p.batch ? (
            <div className={classes.weights}>
              <div>
                <span>Part A</span>
                <Num label={`Part A for ${p.name}`} number={p.batch.a} className={classes.big} />
              </div>
              <div>
                <span>Part B</span>
                <Num label={`Part B for ${p.name}`} number={p.batch.b} className={classes.big} />
              </div>
              <div>
                <span>Together</span>
                <Num label={`Rubber for ${p.name}`} number={p.batch.mass} className={classes.big} />
              </div>
              {p.batch.volumeA && p.batch.volumeB && (
                <div>
                  <span>or by volume, A and B</span>
                  <Num label={`Volume of part A for ${p.name}`} number={p.batch.volumeA} /> <Num label={`Volume of part B for ${p.name}`} number={p.batch.volumeB} />
                </div>
              )}
            </div>
          ) : (
            <div className={classes.weights}>
              <div>
                <span>Volume; choose a rubber for the weights</span>
                <Num label={`Rubber in ${p.name}`} number={p.volume} className={classes.big} />
              </div>
            </div>
          )}
          <Row label="Mixes">
            <Num label={`Mixes for ${p.name}`} number={p.mixes} />
          </Row>
          {p.bed > 0 && (
            <Row label="Stands up to, over the floor">
              <Qty value={p.bed} kind="length" />
            </Row>
          )}
          {p.level > 0 && (
            <Row label="Pour to, over the floor">
              <Qty value={p.level} kind="length" />
            </Row>
          )}
        </div>
      ))}
      {build.clay && (
        <Row label="Clay for the bed">
          <Num label="Clay for the bed" number={build.clay} />
        </Row>
      )}
    </>
  )
}
