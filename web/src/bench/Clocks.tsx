import { useEffect, useRef, useState } from 'react'
import type { Session } from '../api/client'
import classes from './bench.module.css'
import { ring } from './bell'
import { clock, useTick } from './useTick'

/** s before the end of a pot life at which it is called out. */
const soon = 60

/** The clocks that run: pot lives counted down, and the wait that is on. Their ends are seen and heard. */
export function Clocks({ session, now }: { session: Session; now: () => number }) {
  const at = useTick(now)
  const [quiet, setQuiet] = useState(false)
  const rung = useRef(new Set<string>())
  const clocks = session.clocks
  const called = clocks
    .flatMap((c) => {
      const left = c.until - at
      const key = `${c.name} ${c.from}`
      if (left <= 0) return [`${key} over`]
      return c.potLife && left < soon ? [`${key} soon`] : []
    })
    .join('\n')
  useEffect(() => {
    for (const key of called.split('\n')) {
      if (key === '' || rung.current.has(key)) continue
      rung.current.add(key)
      if (!quiet) ring()
    }
  }, [called, quiet])
  if (clocks.length === 0) return null
  return (
    <section className={classes.clocks} aria-label="Clocks">
      {clocks.map((c) => {
        const left = c.until - at
        const state = left <= 0 ? (c.potLife ? 'stop' : 'ok') : c.potLife && left < soon ? 'watch' : ''
        const says = c.potLife ? `pot life, ${c.name}` : c.name
        return (
          <div key={says} className={`${classes.clock} ${state ? classes[state] : ''}`}>
            <span className={classes.clockName}>{says}</span>
            <strong className={`num ${classes.clockLeft}`} role="timer" aria-label={says}>
              {left <= 0 ? (c.potLife ? 'over' : 'done') : clock(left)}
            </strong>
            <span className={classes.track} aria-hidden>
              <span style={{ width: `${Math.min(100, Math.max(0, (100 * left) / (c.until - c.from)))}%` }} />
            </span>
          </div>
        )
      })}
      <button type="button" className={classes.quiet} aria-pressed={quiet} onClick={() => setQuiet(!quiet)}>
        {quiet ? 'Sound off' : 'Sound on'}
      </button>
    </section>
  )
}
