import { NumberInput } from '@mantine/core'
import { useState } from 'react'
import { client, asProblem, type Problem, type Session, type SessionEvent, type Way } from '../api/client'
import { Num } from '../parts/Num'
import { Refused } from '../parts/Refused'
import classes from './bench.module.css'

type Trouble = 'short' | 'over' | 'less' | 'gelled' | 'leak' | 'aslant' | 'torn'

const troubles: { key: Trouble; name: string; asks?: string; mould?: boolean }[] = [
  { key: 'short', name: 'A mould is short', asks: 'short by, mm', mould: true },
  { key: 'over', name: 'Too much is mixed' },
  { key: 'less', name: 'Too little is mixed' },
  { key: 'gelled', name: 'It gels in the cup' },
  { key: 'leak', name: 'A mould leaks', asks: 'lost, g', mould: true },
  { key: 'aslant', name: 'A mould is out of level', asks: 'out of level, mm', mould: true },
  { key: 'torn', name: 'A mould is torn', mould: true },
]

/** When it goes wrong: each a way on with its figures, taken at a press. */
export function Wrong({ session, tell, close }: { session: Session; tell: (event: SessionEvent) => Promise<void>; close: () => void }) {
  const [trouble, setTrouble] = useState<Trouble | null>(null)
  const [mould, setMould] = useState(0)
  const [figure, setFigure] = useState<number | string>(2)
  const [ways, setWays] = useState<Way[] | null>(null)
  const [refused, setRefused] = useState<Problem | null>(null)
  const [reason, setReason] = useState('')
  const of = troubles.find((t) => t.key === trouble)

  async function look(key: Trouble, which = mould, amount = figure) {
    setTrouble(key)
    setWays(null)
    setRefused(null)
    try {
      const query = { trouble: key, mould: which, figure: Number(amount) || 0 }
      const { data } = await client.GET('/sessions/{sessionId}/ways', { params: { path: { sessionId: session.id }, query } })
      setWays(data?.ways ?? [])
    } catch (thrown) {
      setRefused(asProblem(thrown))
    }
  }

  return (
    <section className={classes.wrongs} aria-label="It goes wrong">
      <h1>It goes wrong</h1>
      <div className={classes.wrong}>
        {troubles.map((t) => (
          <button key={t.key} type="button" aria-pressed={trouble === t.key} onClick={() => void look(t.key)}>
            {t.name}
          </button>
        ))}
      </div>
      {of?.mould && (
        <div className={classes.wrong} role="group" aria-label="Which mould">
          {session.moulds.map((m, i) => (
            <button
              key={m.number}
              type="button"
              aria-pressed={mould === i}
              disabled={m.out !== undefined}
              onClick={() => {
                setMould(i)
                void look(of.key, i)
              }}
            >
              {m.number}
            </button>
          ))}
        </div>
      )}
      {of?.asks && (
        <NumberInput
          hideControls
          label={of.asks}
          size="lg"
          min={0}
          value={figure}
          onChange={(v) => {
            setFigure(v)
            void look(of.key, mould, v)
          }}
        />
      )}
      <Refused problem={refused} />
      {ways?.map((w) => (
        <article key={w.do} className={classes.way}>
          <p>
            <strong>{w.do}</strong> {w.why}
          </p>
          {w.figures.length > 0 && (
            <dl className={classes.figures}>
              {w.figures.map((f) => (
                <div key={f.name}>
                  <dt>{f.name}</dt>
                  <dd>
                    <Num number={f.number} label={f.name} />
                  </dd>
                </div>
              ))}
            </dl>
          )}
          {w.event && (
            <button type="button" className={classes.second} onClick={() => void tell(w.event!).then(close)}>
              Do it
            </button>
          )}
        </article>
      ))}
      <div className={classes.hand}>
        <input aria-label="Why it is broken off" placeholder="why" value={reason} onChange={(e) => setReason(e.currentTarget.value)} />
        <button
          type="button"
          className={classes.second}
          disabled={reason.trim() === ''}
          onClick={() => void tell({ what: 'stopped', text: reason.trim() }).then(close)}
        >
          Break the session off
        </button>
      </div>
      <button type="button" className={classes.second} onClick={close}>
        Back to the step
      </button>
    </section>
  )
}
