import { SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import { api, type Build, type Job, type Material, type MouldPlan, type Rise } from '../api/client'
import { Broken } from '../parts/Broken'
import { Findings } from '../parts/Findings'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import { Row } from '../parts/Row'
import { Sounding } from '../parts/Sounding'
import { Standing } from '../parts/WayPicker'
import { useSounding } from '../parts/useSounding'
import type { StageProps } from './stages'
import { RubberPicker } from './RubberPicker'
import { Weighed } from './Weighed'
import classes from './plain.module.css'
import { moment } from './mould/BuildPanel'
import { useDesign } from './useDesign'
import { firstFollowed, useMould, useRises } from './useMould'
import { useRemedies } from './useRemedies'

/** Rubber: what goes on the scale for each pour of the mould. */
export function RubberStage({ job }: StageProps) {
  const { design, study, set, problem } = useDesign()
  const remedy = useRemedies(job)
  const [picked, setAt] = useState<number | null>(null)
  const work = useMould(job)
  const rises = useRises(work)
  const at = Math.min(picked ?? firstFollowed(rises), rises.length - 1)
  const rise = rises[at] as Rise | undefined
  const sounding = useSounding(job, study, rise, design.draw, work.build)
  const findings = (work.build ?? study)?.findings.filter((f) => f.stage === 'rubber') ?? []
  const plan = work.build?.mould ?? study?.mould
  const rubber = api.useQuery('get', '/materials').data?.find((m) => m.id === design.rubber)
  return (
    <>
      <main className={classes.page}>
        <section className={classes.column}>
          <h2>What you set</h2>
          <div className={classes.form}>
            <RubberPicker />
            <MeasureInput
              compact
              label="Stays in the bucket"
              kind="number"
              unit="%"
              value={design.rubberOver}
              onChange={(v) => v !== null && set({ rubberOver: v })}
            />
          </div>
          {problem && <p role="alert">{problem.detail}</p>}
          {plan && <Pours job={job} plan={plan} build={work.build} rubber={rubber} />}
          {work.stage !== null && (
            <p role="status" className="soft">
              Dividing the rubber: {work.stage}…
            </p>
          )}
          <Broken problem={work.broken} again={work.again} />
          <h2>Take care</h2>
          <ul className={classes.cautions}>
            {study?.cautions.rubber.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <h2>At the pour</h2>
          <p>
            Stir both parts in their cans. Scrape sides and bottom, pour into a second cup and mix again. A thin, high stream into a low
            corner, never on the part. Do not open before the left-over in the cup is hard and dry.
          </p>
        </section>
        <section className={classes.sounding} aria-label="Section and sounding rail">
          {rises.length > 1 && (
            <SegmentedControl
              size="xs"
              aria-label="Pour shown"
              value={String(at)}
              onChange={(v) => setAt(Number(v))}
              data={rises.map((r, i) => ({ value: String(i), label: r.name }))}
            />
          )}
          {study && rise && sounding.cut && (
            <Sounding
              study={study}
              rise={rise}
              pour={{ liquid: 'rubber', name: rise.name }}
              draw={design.draw}
              parting={design.parting ?? study.mould.parting}
              {...sounding}
              cut={sounding.cut}
            />
          )}
        </section>
      </main>
      <Findings
        findings={findings}
        onRemedy={remedy}
        settled={work.build ? 'The scale is fine enough for every pour.' : 'Dividing the rubber…'}
        unsettled={!work.build}
      />
    </>
  )
}

/** The pours of the mould in their order, for the scale. */
function Pours({ job, plan, build, rubber }: { job: Job; plan: MouldPlan; build: Build | null; rubber: Material | undefined }) {
  const starts = build?.steps.filter((s) => s.pour >= 0) ?? []
  return (
    <>
      <p className="soft">
        {plan.name}
        {plan.cavities > 1 && `, ${plan.cavities} cavities`}.{build && ` First casting out ${moment(build.firstPull)}.`}
      </p>
      {plan.rubber && (
        <Row label={plan.cavities > 1 ? 'Rubber of the mould, all cavities' : 'Rubber of the mould'}>
          <Num label="Rubber of the mould" number={plan.rubber} />
        </Row>
      )}
      {plan.pours.map((p, i) => (
        <div key={p.name} className={classes.pour}>
          <h2>{p.name}</h2>
          <p className={classes.stands}>
            <Standing job={job} up={p.up} />
          </p>
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
                  <Num label={`Volume of part A for ${p.name}`} number={p.batch.volumeA} />{' '}
                  <Num label={`Volume of part B for ${p.name}`} number={p.batch.volumeB} />
                </div>
              )}
            </div>
          ) : p.volume ? (
            <div className={classes.weights}>
              <div>
                <span>Volume; choose a rubber for the weights</span>
                <Num label={`Rubber in ${p.name}`} number={p.volume} className={classes.big} />
              </div>
            </div>
          ) : (
            <p className="soft">Its share is known when the rubber is divided.</p>
          )}
          {p.batch && rubber && <Weighed material={rubber} needed={p.batch.mass.value} what={p.name} />}
          {p.mixes && (
            <Row label="Mixes">
              <Num label={`Mixes for ${p.name}`} number={p.mixes} />
            </Row>
          )}
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
      {plan.clay && (
        <Row label="Clay for the bed">
          <Num label="Clay for the bed" number={plan.clay} />
        </Row>
      )}
    </>
  )
}
