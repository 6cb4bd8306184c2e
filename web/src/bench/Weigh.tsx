import { useState } from 'react'
import type { ScaleShows, Session, SessionEvent } from '../api/client'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import classes from './bench.module.css'
import { say } from './say'

interface Props {
  session: Session
  scale: ScaleShows | null
  busy: boolean
  keep: (grams: number, from: 'scale' | 'hand') => void
  tell: (event: SessionEvent) => void
}

/** What is wanted at the scale, a bar that fills, and the weight to be kept: from the scale, or typed in. */
export function Weigh({ session, scale, busy, keep, tell }: Props) {
  const [byHand, setByHand] = useState<number | null>(null)
  const w = session.weighing
  if (!w) return null
  if (w.drops) return <Drops wanted={w.target} busy={busy} keep={(n) => keep(n, 'hand')} />
  const alone = !session.scale && w.marks === undefined // nothing else says what was weighed
  const full = 1.25 // of what is wanted, the whole bar
  const at = (grams: number) => `${Math.min(100, (100 * grams) / (w.target * full))}%`
  return (
    <div className={classes.weigh}>
      <p className={classes.wanted}>
        {w.what}{' '}
        <strong>
          <Num number={w.wants} label={`Wanted of ${w.what}`} className={classes.huge} />
        </strong>
        {w.marks !== undefined && (
          <>
            {' '}
            to the mark <Qty value={w.marks} kind="volume" />
          </>
        )}
      </p>
      {w.marks !== undefined && (
        <button type="button" className={classes.main} data-main disabled={busy} onClick={() => keep(w.target, 'hand')}>
          It stands at its mark
        </button>
      )}
      {session.scale && w.marks === undefined && (
        <>
          <p className={classes.shows} aria-live="off">
            {scale?.trouble ? (
              <span role="status" className={classes.trouble}>
                ▲ {scale.trouble}
              </span>
            ) : (
              <>
                <span className={classes.soft}>on the scale</span>{' '}
                <strong className={classes.huge}>{scale?.net === undefined ? '–' : <Qty value={scale.net} kind="mass" />}</strong>{' '}
                <span className={classes.soft}>{word[scale?.in ?? 'none']}</span>
              </>
            )}
          </p>
          <div
            className={classes.bar}
            role="meter"
            aria-label={`Weight of ${w.what}`}
            aria-valuemin={0}
            aria-valuemax={Math.round(w.target * full)}
            aria-valuenow={Math.round(scale?.net ?? 0)}
          >
            <span className={`${classes.fill} ${classes[scale?.in ?? 'none']}`} style={{ width: at(scale?.net ?? 0) }} />
            <span className={classes.band} style={{ left: at(w.low), right: `calc(100% - ${at(w.high)})` }} />
          </div>
          <button
            type="button"
            className={classes.main}
            data-main
            disabled={busy || scale?.settled === undefined}
            onClick={() => scale?.settled !== undefined && keep(scale.settled, 'scale')}
          >
            {scale?.settled === undefined ? (
              scale?.trouble ? (
                'Nothing to keep'
              ) : (
                'It moves'
              )
            ) : (
              <>
                Keep <Qty value={scale.settled} kind="mass" />
              </>
            )}
          </button>
        </>
      )}
      <div className={classes.hand}>
        <MeasureInput label="Weight by hand" kind="mass" value={byHand} onChange={setByHand} allowEmpty />
        <button
          type="button"
          className={alone ? classes.main : classes.second}
          data-main={alone ? '' : undefined}
          disabled={busy || byHand === null}
          onClick={() => byHand !== null && keep(byHand, 'hand')}
        >
          {byHand === null ? (
            'Type it in'
          ) : (
            <>
              By hand, keep <Qty value={byHand} kind="mass" />
            </>
          )}
        </button>
      </div>
      <div className={classes.choices}>
        {w.meets && (
          <button type="button" className={classes.second} onClick={() => tell({ what: 'contact' })}>
            It goes in now: start its pot life
          </button>
        )}
        {scale?.net !== undefined && (
          <button type="button" className={classes.second} onClick={() => tell({ what: 'zeroed', figure: scale.net })}>
            Count this as nothing
          </button>
        )}
      </div>
      {session.standIn && session.scale && <PourIn session={session} shown={scale?.net ?? 0} />}
    </div>
  )
}

const word = { under: 'more', band: 'enough', over: 'too much', none: '' } as const

/** What a hand pours onto a stand-in. */
function PourIn({ session, shown }: { session: Session; shown: number }) {
  const w = session.weighing
  const rest = Math.max(0, Math.round(((w?.target ?? 0) - shown) / session.digit) * session.digit)
  return (
    <div className={classes.standIn} role="group" aria-label="Pour onto the stand-in">
      <button type="button" onClick={() => void say(session, 'scale', `pour ${rest.toFixed(2)} ${Math.max(20, rest / 2).toFixed(0)}`)}>
        Pour the rest
      </button>
      {[10, 1, session.digit].map((g) => (
        <button key={g} type="button" onClick={() => void say(session, 'scale', `put ${g}`)}>
          +{g} g
        </button>
      ))}
    </div>
  )
}

function Drops({ wanted, busy, keep }: { wanted: number; busy: boolean; keep: (n: number) => void }) {
  const [n, setN] = useState(0)
  return (
    <div className={classes.weigh}>
      <p className={classes.wanted}>
        wanted <strong className={`num ${classes.huge}`}>{Math.round(wanted)}</strong> drops
      </p>
      <div className={classes.choices}>
        <button type="button" className={classes.second} onClick={() => setN(Math.max(0, n - 1))}>
          One less
        </button>
        <button type="button" className={classes.second} onClick={() => setN(n + 1)}>
          A drop: {n}
        </button>
        <button type="button" className={classes.main} data-main disabled={busy} onClick={() => keep(n)}>
          Keep {n} drops
        </button>
      </div>
    </div>
  )
}
