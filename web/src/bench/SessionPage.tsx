import { useDocumentTitle } from '@mantine/hooks'
import { useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Session } from '../api/client'
import { Sign } from '../parts/Findings'
import { Qty } from '../parts/Num'
import { MeasuredForm } from '../parts/MeasuredForm'
import { Refused } from '../parts/Refused'
import { useKeys } from '../parts/useKeys'
import { useTemperature } from '../parts/useShop'
import { warmth } from '../parts/units'
import { Act } from './Act'
import classes from './bench.module.css'
import { Clocks } from './Clocks'
import { Record } from './Record'
import { useLive, type Live } from './useLive'
import { Wrong } from './Wrong'

/** A session at the bench: one step, the next one named, the clocks always in sight. */
export function SessionPage() {
  const { sessionId = '' } = useParams()
  return <Bench key={sessionId} live={useLive(sessionId)} />
}

function Bench({ live }: { live: Live }) {
  const { session, refused, asked, away, busy, tell, forget } = live
  useDocumentTitle(session ? `${session.job} · Bench · Bathyform` : 'Bench · Bathyform')
  const [wrong, setWrong] = useState(false)
  const frame = useRef<HTMLElement>(null)
  const press = () => frame.current?.querySelector<HTMLButtonElement>('[data-main]:not(:disabled)')?.click()
  const back = () => session && session.at > 0 && !session.over && void tell({ what: 'back', step: session.steps[session.at]?.key })
  useKeys([
    ['Enter', press],
    ['Space', press],
    ['Backspace', () => (asked || refused ? forget() : back())],
  ])
  if (!session)
    return (
      <main className={classes.bench}>
        {refused ? <Refused problem={refused} /> : <h1>Reading the session…</h1>}
        <p>
          <Link to="/bench">To the bench</Link>
        </p>
      </main>
    )
  if (session.over) return <Over session={session} />
  const step = session.steps[session.at]
  const next = session.steps[session.at + 1]
  return (
    <main className={classes.bench} ref={frame}>
      <header className={classes.head}>
        <Link to="/bench" className={classes.leave}>
          Bench
        </Link>
        <span>
          {session.lesson ? 'Training: ' : ''}
          {session.job} · {session.material}
        </span>
        <span className="num">
          {session.at + 1} of {session.steps.length}
        </span>
      </header>
      <Clocks session={session} now={live.now} />
      {away && (
        <p className={classes.away} role="status">
          ▲ The server is away. The session is kept there, its clocks go on; what you pressed last is sent again.
        </p>
      )}
      {wrong ? (
        <Wrong session={session} tell={tell} close={() => setWrong(false)} />
      ) : (
        <>
          <section className={classes.step} aria-label="Step" aria-live="polite">
            <h1>{step.do}</h1>
            {step.items && (
              <ul className={classes.items}>
                {step.items.map((item) => (
                  <li key={item}>{item}</li>
                ))}
              </ul>
            )}
            {step.caution && (
              <p className={classes.caution}>
                <Sign severity="watch" /> {step.caution}
              </p>
            )}
            {step.why && <p className={classes.why}>{step.why}</p>}
            {session.slip && <p className={classes.slip}>◆ {session.slip}</p>}
          </section>
          <ul className={classes.findings} aria-label="Findings">
            {session.findings.map((f) => (
              <li key={f.what} className={classes[f.severity]}>
                <Sign severity={f.severity} /> <strong>{f.what}</strong> {f.figure && <Qty value={f.figure.value} kind={f.figure.kind} />}
                {f.limit && (
                  <>
                    {' '}
                    against <Qty value={f.limit.value} kind={f.limit.kind} />.
                  </>
                )}{' '}
                {f.why} {f.source && <span className="soft">Source: {f.source}.</span>}
              </li>
            ))}
          </ul>
          <InTheCup session={session} />
          {session.short && (
            <button type="button" className={classes.second} onClick={() => void tell({ what: 'more' })}>
              Add <Qty value={session.short.add.value} kind="mass" /> of {session.short.what}
            </button>
          )}
          {asked ? (
            <section className={classes.asked} role="alertdialog" aria-label="Is that meant?">
              <p>{asked.says}</p>
              <div className={classes.choices}>
                <button type="button" className={classes.second} onClick={forget}>
                  No, again
                </button>
                <button type="button" className={classes.main} data-main onClick={() => void tell(asked.event)}>
                  Yes, it is meant
                </button>
              </div>
            </section>
          ) : (
            <Act session={session} scale={live.scale} gauge={live.gauge} busy={busy} tell={(e) => void tell(e)} />
          )}
          <Refused problem={refused} />
        </>
      )}
      <footer className={classes.foot}>
        <button type="button" disabled={session.at === 0 || busy} onClick={back}>
          ← Back
        </button>
        <span className={classes.next}>{next ? `Next: ${next.do}` : 'Then it is done.'}</span>
        <button
          type="button"
          disabled={busy || ['weigh', 'look', 'birth', 'record'].includes(step.act)}
          onClick={() => void tell({ what: 'skipped', step: step.key })}
        >
          Leave out
        </button>
        <button type="button" aria-expanded={wrong} onClick={() => setWrong(!wrong)}>
          It goes wrong
        </button>
      </footer>
      <Moulds session={session} />
      <details className={classes.more}>
        <summary>What was done, and who does it</summary>
        <Warmth celsius={session.celsius} tell={(figure) => void tell({ what: 'warmth', figure })} />
        <Record session={session} />
      </details>
    </main>
  )
}

/** What the cup that is on holds, once it is weighed: which mould gets how much, and how sure its ratio is. */
function InTheCup({ session }: { session: Session }) {
  const cup = session.cups.find((c) => c.now)
  if (!cup?.order) return null
  return (
    <p className={classes.why}>
      In the cup for{' '}
      {cup.order.map((f, i) => (
        <span key={i}>
          {i > 0 && ', '}
          {f.mould} <Qty value={f.grams} kind="mass" />
        </span>
      ))}
      {cup.over !== undefined && cup.over > 0.05 && (
        <>
          ; <Qty value={cup.over} kind="mass" /> over
        </>
      )}
      {cup.unsure !== undefined && (
        <>
          . The ratio is sure to <span className="num">{cup.unsure} %</span>.
        </>
      )}
    </p>
  )
}

/** The moulds of the session, and what each has had. */
function Moulds({ session }: { session: Session }) {
  return (
    <ul className={classes.moulds} aria-label="Moulds">
      {session.moulds.map((m) => (
        <li key={m.number} className={m.out ? classes.out : undefined}>
          <strong>{m.number}</strong>
          {m.pot !== undefined && ` · pot ${m.pot}`}
          {m.filled && (
            <>
              {' · '}
              <Qty value={m.poured} kind="mass" />
            </>
          )}
          {m.results.map((r) => (
            <span key={r.cavity}> {r.good ? '✓' : `${r.second ? '◇' : '◆'} ${r.defect}`}</span>
          ))}
          {m.flaw && ` ◆ ${m.flaw}`}
          {m.out && ` · out: ${m.out}`}
        </li>
      ))}
    </ul>
  )
}

/** The shop's warmth as it is now: pot lives and cures follow it. */
function Warmth({ celsius, tell }: { celsius: number; tell: (celsius: number) => void }) {
  const [who, setWho] = useState(localStorage.getItem('bathyform who') ?? '')
  const degrees = useTemperature()
  const degree = warmth.kept(1, degrees) - warmth.kept(0, degrees)
  return (
    <p className={classes.hand}>
      <span>
        <span className="num">
          {Math.round(warmth.shown(celsius, degrees))} {degrees}
        </span>{' '}
        in the shop
      </span>
      <button type="button" className={classes.small} onClick={() => tell(celsius - degree)} aria-label="A degree colder">
        −
      </button>
      <button type="button" className={classes.small} onClick={() => tell(celsius + degree)} aria-label="A degree warmer">
        +
      </button>
      <input
        aria-label="Who does it"
        placeholder="who does it"
        value={who}
        onChange={(e) => {
          setWho(e.currentTarget.value)
          localStorage.setItem('bathyform who', e.currentTarget.value.trim())
        }}
      />
    </p>
  )
}

/** A session that is over: what it made, and in a lesson how it went. */
function Over({ session }: { session: Session }) {
  return (
    <main className={classes.bench}>
      <header className={classes.head}>
        <Link to="/bench" className={classes.leave}>
          Bench
        </Link>
        <span>
          {session.job} · {session.material}
        </span>
      </header>
      <h1>{session.stopped ? `Broken off: ${session.stopped}` : session.lesson ? 'The lesson is over' : 'It is written down'}</h1>
      {session.marks && (
        <table className={classes.record} aria-label="How it went">
          <tbody>
            {session.marks.map((m) => (
              <tr key={m.name}>
                <th scope="row">{m.name}</th>
                <td className="num">{m.got} of 10</td>
                <td>{m.says}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {session.lesson ? (
        <p>Nothing of it went into stock, log or rack.</p>
      ) : (
        <p>
          {session.jobId && <Link to={`/jobs/${session.jobId}/pulls`}>To the log of {session.job}</Link>}{' '}
          <Link to="/rack">To the rack</Link> <Link to="/stock">To the stock</Link>
        </p>
      )}
      {!session.lesson && <Stayed session={session} />}
      <Moulds session={session} />
      <Record session={session} />
    </main>
  )
}

/** What stayed in the cup or the bucket: weighed now, the shop learns what it always loses. */
function Stayed({ session }: { session: Session }) {
  const [kept, setKept] = useState(false)
  const what = session.kind === 'rubber' ? ('bucket' as const) : ('residue' as const)
  return (
    <details className={classes.more}>
      <summary>{what === 'bucket' ? 'What stayed in the bucket?' : 'What stayed in the cup?'}</summary>
      {kept ? (
        <p>
          Written down. <Link to="/learnt">What the log teaches</Link>
        </p>
      ) : (
        <MeasuredForm materials={[]} given={{ what, material: session.material }} onDone={() => setKept(true)} />
      )}
    </details>
  )
}
