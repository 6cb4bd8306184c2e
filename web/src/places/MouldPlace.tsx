import { Button, Modal, NativeSelect, TextInput } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useState, type FormEvent } from 'react'
import { Link, useParams } from 'react-router'
import { api, client, type MouldPage } from '../api/client'
import { Fault } from '../parts/Fault'
import { Sign } from '../parts/Findings'
import { ForecastLine } from '../parts/ForecastLine'
import { day, today } from '../parts/day'
import { Num } from '../parts/Num'
import { Refused } from '../parts/Refused'
import { useSending } from '../parts/useSending'
import { CorrectedMould } from '../stages/pulls/MouldForm'
import { MouldHistory } from '../stages/pulls/History'
import { Remaining, states } from './RackPlace'
import classes from './mould.module.css'
import places from './places.module.css'

/** All of one mould: what is left in it and why, its cavities watched, and its story. */
export function MouldPlace() {
  const { mouldId = '' } = useParams()
  const page = api.useQuery('get', '/moulds/{mouldId}/page', { params: { path: { mouldId } } })
  const [right, setRight] = useState(false)
  useDocumentTitle(`${page.data?.mould.number ?? 'Mould'} · Rack · Bathyform`)
  if (page.error && !page.data) return <Fault thrown={page.error} retry={() => void page.refetch()} />
  if (!page.data) return <main className={places.place}>One moment…</main>
  const {
    mould: m,
    state,
    findings,
    cavities,
    together,
    falseAlarm,
    survival,
    story,
    kindMoulds,
    came,
    left,
    compared = [],
    accidents,
  } = page.data
  return (
    <main className={places.place}>
      <header className={places.head}>
        <h1>
          {m.number} <span className="soft">{states[state]}</span>
        </h1>
        <span>
          <Link to={`/jobs/${m.jobId}/pulls`}>{m.jobName}</Link> · {m.rubber} · poured {day(m.poured)} · <Link to="/rack">the rack</Link>
        </span>
      </header>
      <div className={classes.columns}>
        <section>
          <ul className={classes.findings} aria-label="Findings">
            {findings.length === 0 && (
              <li>
                <Sign severity="ok" /> Nothing speaks against it.
              </li>
            )}
            {findings.map((f) => (
              <li key={f.what}>
                <Sign severity={f.severity} /> <strong>{f.what}</strong> {f.why}{' '}
                {f.source && <span className="soft">Source: {f.source}.</span>}
              </li>
            ))}
          </ul>
          <Facts page={page.data} onRight={() => setRight(true)} />
          <h2>Life</h2>
          <p>
            <span className="num">{m.pulls}</span> pulls, <span className="num">{m.good}</span> good,{' '}
            {m.seconds !== undefined && (
              <>
                <span className="num">{m.seconds}</span> {m.seconds === 1 ? 'second' : 'seconds'},{' '}
              </>
            )}
            <span className="num">{m.scrap}</span> scrap; <Remaining mould={m} opens={left} />
          </p>
          <Survival survival={survival} pulls={m.pulls} moulds={kindMoulds} />
          {came && came.length > 0 && (
            <details>
              <summary>What was forecast of it, and what came</summary>
              <ul>
                {came.map((c) => (
                  <li key={c.at}>
                    <span className="num">{day(c.day)}</span> <ForecastLine forecast={c} />
                  </li>
                ))}
              </ul>
            </details>
          )}
          <p>
            <Link to={`/forecasts?rubber=${encodeURIComponent(m.rubber)}`}>How good the forecasts were</Link>{' '}
            <span className="soft">of moulds of {m.rubber}</span>
          </p>
          {accidents && (
            <p className="soft">
              Apart from wear, <Num number={accidents} label="Accidents a pull" /> accidents a pull: torn by hand, spoilt by a mix or lost.
            </p>
          )}
          {compared.length > 0 && (
            <details>
              <summary>What release, rest and warmth do to moulds of this rubber</summary>
              <ul>
                {compared.map((c) => (
                  <li key={c.what}>
                    {c.says}{' '}
                    {c.ratio && (
                      <span className="soft">
                        So far <Num number={c.ratio} label={`How often, ${c.what}`} /> times: {c.worn} worn out of {c.moulds} with it,{' '}
                        {c.otherWorn} of {c.otherMoulds} without.
                      </span>
                    )}
                  </li>
                ))}
              </ul>
            </details>
          )}
          <h2>Cavities</h2>
          {cavities.map((c) => (
            <div key={c.cavity} className={classes.cavity}>
              <p>
                Cavity {c.cavity}
                {c.plugged && ', plugged'}: <span className="num">{c.bad}</span> of <span className="num">{c.pulls}</span> bad, about{' '}
                <Num number={c.scrap} label={`Scrap of cavity ${c.cavity}`} /> %
                {c.left && (
                  <>
                    , about <span className="num">{c.left.middle}</span> more good ones{' '}
                    <span className="soft">
                      ({c.left.low} to {c.left.high})
                    </span>
                  </>
                )}
                {c.alarms.length > 0 && <span className={classes.alarm}> ▲ alarm at pull {c.alarms.join(', ')}</span>}
              </p>
              <Chart chart={c} />
            </div>
          ))}
          <p className="soft">
            Each chart alarms for nothing in <Num number={falseAlarm} label="False alarms" /> % of forty pulls.
            {together.length > 0 && ` All cavities were bad at once at pull ${together.join(', ')}: that was the mix.`}
          </p>
        </section>
        <section>
          {!m.retired && <Care mould={m} onDone={() => void page.refetch()} />}
          <h2>Story</h2>
          <ol className={classes.story}>
            {story.map((s, i) => (
              <li key={i}>
                <span className="num">{day(s.day)}</span> {s.session ? <Link to={`/bench/${s.session}`}>{s.says}</Link> : s.says}
              </li>
            ))}
          </ol>
        </section>
      </div>
      <Modal opened={right} onClose={() => setRight(false)} title={`Correct mould ${m.number}`}>
        <CorrectedMould
          mould={m}
          onDone={() => {
            setRight(false)
            void page.refetch()
          }}
        />
        {m.version > 1 && <MouldHistory mould={m} />}
      </Modal>
    </main>
  )
}

/** What a mould is: where it stands, what it was poured from, and how it was born. */
function Facts({ page, onRight }: { page: MouldPage; onRight: () => void }) {
  const { mould: m, up, cared } = page
  const rows: [string, string | undefined][] = [
    ['Born', m.birth === undefined ? undefined : m.birth.join(', ') || 'clean at the first look'],
    ['Stands at', m.place],
    ['Pieces', m.pieces ? String(m.pieces) : undefined],
    ['Lot of the rubber', m.lot],
    ['Design', m.designVersion ? `version ${m.designVersion} of the job` : undefined],
    ['Cared for', cared],
    ['Arrow', up && `up for the resin, ${up} of the master`],
  ]
  return (
    <>
      <dl className={places.facts}>
        {rows.map(
          ([name, value]) =>
            value && (
              <div key={name} style={{ display: 'contents' }}>
                <dt>{name}</dt>
                <dd>{value}</dd>
              </div>
            ),
        )}
      </dl>
      <button type="button" className="quiet" onClick={onRight}>
        {m.birth === undefined ? 'Write down the first look, and where it stands' : 'correct'}
      </button>
    </>
  )
}

const cares = [
  { value: 'released', label: 'released' },
  { value: 'repaired', label: 'repaired' },
  { value: 'rested', label: 'put aside to rest' },
  { value: 'back', label: 'taken back into use' },
  { value: 'plugged', label: 'a cavity plugged' },
  { value: 'opened', label: 'a cavity opened again' },
  { value: 'noted', label: 'something else' },
] as const

/** What was done to the mould besides casting in it. */
function Care({ mould, onDone }: { mould: MouldPage['mould']; onDone: () => void }) {
  const [what, setWhat] = useState<(typeof cares)[number]['value']>('released')
  const [on, setOn] = useState(today())
  const [cavity, setCavity] = useState('1')
  const [says, setSays] = useState('')
  const { busy, refused, sending } = useSending()
  const ofOne = what === 'plugged' || what === 'opened'
  async function keep(e: FormEvent) {
    e.preventDefault()
    await sending(async () => {
      await client.POST('/moulds/{mouldId}/care', {
        params: { path: { mouldId: mould.id }, header: { 'Idempotency-Key': crypto.randomUUID() } },
        body: { day: on, what, cavity: ofOne ? Number(cavity) : undefined, says: says || undefined },
      })
      setSays('')
      onDone()
    })
  }
  return (
    <form className={places.form} onSubmit={(e) => void keep(e)} aria-label="What was done to it">
      <NativeSelect
        label="It was"
        value={what}
        onChange={(e) => setWhat(e.currentTarget.value as typeof what)}
        data={cares.map(({ value, label }) => ({ value, label }))}
      />
      {ofOne && (
        <NativeSelect
          label="Cavity"
          value={cavity}
          onChange={(e) => setCavity(e.currentTarget.value)}
          data={Array.from({ length: mould.cavities }, (_, i) => String(i + 1))}
        />
      )}
      <TextInput label="Day" type="date" value={on} max={today()} onChange={(e) => setOn(e.currentTarget.value)} />
      <TextInput label="With what, and why" value={says} maxLength={400} onChange={(e) => setSays(e.currentTarget.value)} />
      <Button type="submit" variant="default" loading={busy}>
        Write it down
      </Button>
      <Refused problem={refused} />
    </form>
  )
}

/** The chart of a cavity: what a bad casting adds and a good one takes off, up to the height at which it alarms. */
function Chart({ chart }: { chart: MouldPage['cavities'][number] }) {
  const { states: all, height } = chart
  if (all.length === 0) return <p className="soft">No casting yet.</p>
  const wide = 320
  const tall = 44
  const top = Math.max(height, ...all)
  const x = (i: number) => (all.length === 1 ? 0 : (i * wide) / (all.length - 1))
  const y = (s: number) => tall - (s * tall) / top
  return (
    <svg
      className={classes.chart}
      viewBox={`-2 -4 ${wide + 4} ${tall + 8}`}
      role="img"
      aria-label={`Chart of cavity ${chart.cavity}: stands at ${all[all.length - 1]} of ${height}`}
    >
      <line x1={0} x2={wide} y1={y(height)} y2={y(height)} className={classes.limit} />
      <polyline points={all.map((s, i) => `${x(i)},${y(s)}`).join(' ')} className={classes.path} />
      {chart.alarms.map((a) => (
        <circle key={a} cx={x(a - 1)} cy={y(all[a - 1])} r={3} className={classes.dot} />
      ))}
    </svg>
  )
}

/** The share of moulds of this rubber that gives so many pulls, with its interval. */
function Survival({ survival, pulls, moulds }: { survival: MouldPage['survival']; pulls: number; moulds: number }) {
  if (survival.length === 0)
    return (
      <p className="soft">
        {moulds} {moulds === 1 ? 'mould' : 'moulds'} of this rubber so far, too few that wore out for a curve: the forecast rests on what is
        usual, and on these.
      </p>
    )
  const wide = 320
  const tall = 110
  const last = Math.max(pulls, survival[survival.length - 1].pulls) * 1.1
  const x = (n: number) => (n * wide) / last
  const y = (s: number) => tall - s * tall
  const steps = (of: (s: MouldPage['survival'][number]) => number) => {
    let path = `M0 ${y(1)}`
    for (const s of survival) path += `H${x(s.pulls)}V${y(of(s))}`
    return `${path}H${wide}`
  }
  return (
    <>
      <svg
        className={classes.survival}
        viewBox={`-28 -6 ${wide + 40} ${tall + 28}`}
        role="img"
        aria-label={`Share of moulds of this rubber that gives so many pulls: ${survival.map((s) => `${Math.round(100 * s.share)} % more than ${s.pulls}`).join(', ')}`}
      >
        <path d={steps((s) => s.high)} className={classes.between} />
        <path d={steps((s) => s.low)} className={classes.between} />
        <path d={steps((s) => s.share)} className={classes.path} />
        <line x1={x(pulls)} x2={x(pulls)} y1={0} y2={tall} className={classes.limit} />
        <line x1={0} x2={wide} y1={tall} y2={tall} className={classes.axis} />
        <text x={x(pulls)} y={tall + 16} textAnchor="middle">
          {pulls} pulls
        </text>
        <text x={-4} y={y(1) + 4} textAnchor="end">
          all
        </text>
        <text x={-4} y={y(0)} textAnchor="end">
          none
        </text>
      </svg>
      <p className="soft">
        {moulds} moulds of this rubber; at risk {survival.map((s) => `${s.atRisk} at ${s.pulls}`).join(', ')} (Kaplan and Meier 1958, 95 %
        interval dashed).
      </p>
    </>
  )
}
