import { NativeSelect } from '@mantine/core'
import { api } from '../api/client'
import { Findings } from '../parts/Findings'
import { MeasureInput } from '../parts/MeasureInput'
import { Num } from '../parts/Num'
import { Row } from '../parts/Row'
import { Sounding } from '../parts/Sounding'
import { useSounding } from '../parts/useSounding'
import { Colour } from './Colour'
import { Weighed } from './Weighed'
import type { StageProps } from './stages'
import classes from './plain.module.css'
import { useDesign } from './useDesign'
import { useMould } from './useMould'
import { useRemedies } from './useRemedies'
import { Words } from '../parts/Words'

/** Shot: how much resin a pull takes, as a sum that can be checked by hand. */
export function ShotStage({ job }: StageProps) {
  const { design, study, set, problem } = useDesign()
  const remedy = useRemedies(job)
  const materials = api.useQuery('get', '/materials').data ?? []
  const resins = materials.filter((m) => m.kind === 'resin')
  const chosen = resins.find((m) => m.id === design.resin)
  const batch = study?.shot.batch
  const work = useMould(job)
  const sounding = useSounding(job, study, study?.gates.rise, design.draw, work.build)
  return (
    <>
      <main className={classes.page}>
        <section className={classes.column}>
          <h2>What you set</h2>
          <div className={classes.form}>
            <NativeSelect
              size="xs"
              label="Resin"
              value={design.resin ?? ''}
              onChange={(e) => set({ resin: e.currentTarget.value || null })}
              data={[{ value: '', label: 'choose a resin…' }, ...resins.map((m) => ({ value: m.id, label: m.name }))]}
            />
            <MeasureInput
              compact
              label="Cup, flash and margin"
              kind="number"
              unit="%"
              value={design.shotOver}
              onChange={(v) => v !== null && set({ shotOver: v })}
            />
          </div>
          {problem && <p role="alert">{problem.detail}</p>}
          <h2>The sum</h2>
          {study?.shot.lines.map((line) => (
            <Row key={line.name} label={line.name}>
              <Num label={line.name} number={line.volume} />
            </Row>
          ))}
          {study && (
            <Row label={<strong>Shot</strong>}>
              <Num label="Shot by volume" number={study.shot.total} />
            </Row>
          )}
          <h2>On the scale</h2>
          {batch ? (
            <>
              <p className="soft">{chosen?.ratio}</p>
              <div className={classes.weights}>
                {batch.b.value > 0 && (
                  <>
                    <div>
                      <span>Part A</span>
                      <Num label="Part A" number={batch.a} className={classes.big} />
                    </div>
                    <div>
                      <span>Part B</span>
                      <Num label="Part B" number={batch.b} className={classes.big} />
                    </div>
                  </>
                )}
                <div>
                  <span>{batch.b.value > 0 ? 'Together' : 'To melt'}</span>
                  <Num label="Shot by weight" number={batch.mass} className={classes.big} />
                </div>
                {batch.volumeA && batch.volumeB && (
                  <div>
                    <span>or by volume, A and B</span>
                    <Num label="Volume of part A" number={batch.volumeA} /> <Num label="Volume of part B" number={batch.volumeB} />
                  </div>
                )}
              </div>
            </>
          ) : (
            <p className="soft">Choose a resin for the weights.</p>
          )}
          {study?.shot.chain && (
            <table className={classes.chain}>
              <caption>One tare, with the empty cup and its stick on the scale</caption>
              <thead>
                <tr>
                  <th scope="col">into the cup</th>
                  <th scope="col">add</th>
                  <th scope="col">it then shows</th>
                </tr>
              </thead>
              <tbody>
                {study.shot.chain.map((step, i) => (
                  <tr key={i}>
                    <th scope="row">{step.what}</th>
                    <td>
                      <Num label={`${step.what}, into the cup`} number={step.add} />
                      {step.drops && ' drops'}
                    </td>
                    <td>
                      <Num label={`${step.what}, the scale shows`} number={step.reads} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {study && (
            <>
              {study.shot.potful && (
                <Row label="For all moulds that the pot holds at once">
                  <Num label="A pot load" number={study.shot.potful} />
                </Row>
              )}
              <Row label="Cup to mix it in, at least">
                <Num label="Cup to mix it in" number={study.shot.cup} />
              </Row>
              {study.shot.mixes.value > 1 && (
                <Row label="In so many mixes">
                  <Num label="Mixes of the shot" number={study.shot.mixes} />
                </Row>
              )}
              <Row label="Cup to degas it in, at least">
                <Num label="Cup to degas it in" number={study.shot.vessel} />
              </Row>
            </>
          )}
          {batch && chosen && <Weighed material={chosen} needed={batch.mass.value} what="resin" />}
          <Colour study={study} resin={chosen} />
          <h2>Take care</h2>
          <ul className={classes.cautions}>
            {study?.cautions.shot.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <Words of={['shot', 'pot life', 'sprue', 'flash']} />
        </section>
        <section className={classes.sounding} aria-label="Section and sounding rail">
          {study && sounding.cut && (
            <Sounding
              study={study}
              rise={study.gates.rise}
              pour={{ liquid: 'resin' }}
              draw={design.draw}
              parting={design.parting ?? study.mould.parting}
              {...sounding}
              cut={sounding.cut}
            />
          )}
        </section>
      </main>
      <Findings
        findings={(study?.findings ?? []).filter((f) => f.stage === 'shot')}
        onRemedy={remedy}
        settled="The scale is fine enough for this shot."
      />
    </>
  )
}
