import { useState } from 'react'
import { type InstrumentLine, type ScaleShows, type Session, type SessionEvent } from '../api/client'
import { MeasureInput } from '../parts/MeasureInput'
import { Qty } from '../parts/Num'
import { useReadings } from '../parts/useShop'
import { defects } from '../stages/pulls/entries'
import classes from './bench.module.css'
import { say } from './say'
import { Weigh } from './Weigh'

interface Props {
  session: Session
  scale: ScaleShows | null
  gauge: InstrumentLine | null
  busy: boolean
  tell: (event: SessionEvent) => void
}

/** What is wrong with a mould at its birth. */
const flaws = ['bubbles', 'flash over the part', 'torn edge', 'sticky', 'warped']

/** What is pressed when the step is done: a weight to keep, a casting to judge, or simply that it is. */
export function Act(props: Props) {
  const { session, scale, gauge, busy, tell } = props
  const step = session.steps[session.at]
  const done = (more?: Partial<SessionEvent>) => tell({ what: 'done', step: step.key, ...more })
  switch (step.act) {
    case 'weigh':
    case 'count':
      return (
        <Weigh key={step.key} session={session} scale={scale} busy={busy} tell={tell} keep={(figure, from) => done({ figure, from })} />
      )
    case 'look':
      return (
        <Judge
          key={step.key}
          what="casting"
          wrong={defects}
          busy={busy}
          seconds
          judge={(good, text, second) => done({ good, text, second })}
        />
      )
    case 'birth':
      return <Judge key={step.key} what="mould" wrong={flaws} busy={busy} judge={(good, text) => done({ good, text })} />
    case 'degas':
      return (
        <div className={classes.choices}>
          <button type="button" className={classes.second} onClick={() => tell({ what: 'rose' })}>
            It rose and fell: {session.rises ?? 0}
          </button>
          <Main busy={busy} onClick={() => done()} />
        </div>
      )
    case 'tare':
      return <Tare session={session} scale={scale} busy={busy} tell={tell} done={(figure) => done({ figure })} />
    case 'pressure':
      return <Pressure session={session} gauge={gauge} busy={busy} done={(figure) => done({ figure })} />
    case 'record':
      return <Main busy={busy} onClick={() => done()} label={session.lesson ? 'Show how it went' : 'Write it down'} />
    case 'wait':
      return <Main busy={busy} onClick={() => done()} label="It is over" />
    case 'pour':
      return <Main busy={busy} onClick={() => done()} label="Poured" />
  }
  return <Main busy={busy} onClick={() => done()} />
}

function Main({ busy, onClick, label = 'Done' }: { busy: boolean; onClick: () => void; label?: string }) {
  return (
    <button type="button" className={classes.main} data-main disabled={busy} onClick={onClick}>
      {label}
    </button>
  )
}

/** One press says that it is good; another what is wrong with it. */
function Judge({
  what,
  wrong,
  busy,
  seconds = false,
  judge: judged,
}: {
  what: string
  wrong: readonly string[]
  busy: boolean
  /** What is wrong may leave one that can be used. */
  seconds?: boolean
  judge: (good: boolean, text?: string, second?: boolean) => void
}) {
  const [other, setOther] = useState('')
  const [usable, setUsable] = useState(false)
  const judge = (good: boolean, text?: string) => judged(good, text, !good && usable ? true : undefined)
  return (
    <>
      <button type="button" className={classes.main} data-main disabled={busy} onClick={() => judge(true)}>
        Good
      </button>
      {seconds && (
        <button type="button" className={classes.second} aria-pressed={usable} onClick={() => setUsable(!usable)}>
          {usable ? '◇ A second: it can be used. What is wrong with it?' : 'It can be used all the same: a second'}
        </button>
      )}
      <div className={classes.wrong} role="group" aria-label={`What is wrong with the ${what}`}>
        {wrong.map((w) => (
          <button key={w} type="button" disabled={busy} onClick={() => judge(false, w)}>
            {w}
          </button>
        ))}
        <input
          aria-label="Something else"
          placeholder="something else"
          value={other}
          onChange={(e) => setOther(e.currentTarget.value)}
          onKeyDown={(e) => e.key === 'Enter' && other.trim() !== '' && judge(false, other.trim())}
        />
        {other.trim() !== '' && (
          <button type="button" disabled={busy} onClick={() => judge(false, other.trim())}>
            Keep it: {other.trim()}
          </button>
        )}
      </div>
    </>
  )
}

interface TareProps {
  session: Session
  scale: ScaleShows | null
  busy: boolean
  tell: (event: SessionEvent) => void
  done: (figure: number) => void
}

/** The empty cup on the scale: tared there, or reckoned off. One that is too small is told, and the mix divided. */
function Tare({ session, scale, busy, tell, done }: TareProps) {
  const settled = scale?.settled
  return (
    <>
      {session.scale && (
        <p className={classes.shows}>
          {scale?.trouble ? (
            <span role="status" className={classes.trouble}>
              ▲ {scale.trouble}
            </span>
          ) : (
            <>
              <span className={classes.soft}>on the scale</span>{' '}
              <strong className={classes.huge}>{scale?.net === undefined ? '–' : <Qty value={scale.net} kind="mass" />}</strong>
            </>
          )}
        </p>
      )}
      <div className={classes.hand}>
        <MeasureInput
          label="The cup at hand holds"
          kind="volume"
          value={session.holds ?? null}
          onChange={(figure) => figure !== null && tell({ what: 'athand', figure })}
          allowEmpty
        />
        {session.divides !== undefined && (
          <button type="button" className={classes.second} onClick={() => tell({ what: 'divided' })}>
            Mix it in {session.divides} cups
          </button>
        )}
      </div>
      <div className={classes.choices}>
        {session.standIn && (
          <button
            type="button"
            className={classes.second}
            onClick={() => void say(session, 'scale', 'take').then(() => say(session, 'scale', 'put 38'))}
          >
            Put the cup on
          </button>
        )}
        <button
          type="button"
          className={classes.main}
          data-main
          disabled={busy}
          onClick={() => (session.standIn ? void say(session, 'scale', 'tare').then(() => done(0)) : done(settled ?? 0))}
        >
          {session.standIn ? 'Tare' : settled === undefined ? 'It is tared' : 'The empty cup is on it'}
        </button>
      </div>
    </>
  )
}

/** The pot's pressure as the gauge has it, or as it is read off. */
function Pressure({
  session,
  gauge,
  busy,
  done,
}: {
  session: Session
  gauge: InstrumentLine | null
  busy: boolean
  done: (figure: number) => void
}) {
  const wanted = session.pressure ?? 0
  const said = useReadings()
  const heard = session.gauge && gauge && !gauge.trouble
  return (
    <>
      {session.gauge && (
        <p className={classes.shows}>
          <span className={classes.soft}>in the pot</span>{' '}
          <strong className={`num ${classes.huge}`}>
            {heard && gauge.value !== undefined ? said.pressure(Math.round(gauge.value)) : '–'}
          </strong>
          {gauge?.trouble && <span className={classes.trouble}> ▲ {gauge.trouble}</span>}
        </p>
      )}
      <div className={classes.choices}>
        {session.standIn && session.gauge && (
          <button type="button" className={classes.second} onClick={() => void say(session, 'pot', `to ${wanted} 120`)}>
            Open the air
          </button>
        )}
        <button
          type="button"
          className={classes.main}
          data-main
          disabled={busy}
          onClick={() => done(heard && gauge.value !== undefined ? Math.round(gauge.value) : wanted)}
        >
          It holds
        </button>
      </div>
    </>
  )
}
