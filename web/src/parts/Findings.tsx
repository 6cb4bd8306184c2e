import { Button } from '@mantine/core'
import { useLayoutEffect, useRef, useState } from 'react'
import type { Finding, Remedy } from '../api/client'
import classes from './Findings.module.css'
import { Qty } from './Num'

interface Props {
  findings: Finding[]
  onShow?: (finding: Finding) => void
  onRemedy: (remedy: Remedy) => void
  settled?: string
  /** Nothing is known to stand against the stage, but it is not worked out yet. */
  unsettled?: boolean
  /** A hand is moving something: the strip stays as high as it is, so that nothing jumps away from under it. */
  still?: boolean
}

const order = { stop: 0, watch: 1, note: 2 } as const
const word = { stop: 'Stop', watch: 'Watch', note: 'Note' } as const

export function Sign({ severity }: { severity: Finding['severity'] | 'ok' }) {
  const sign = { stop: '◆', watch: '▲', note: '–', ok: '✓' }[severity]
  return (
    <span aria-hidden className={classes[severity]}>
      {sign}
    </span>
  )
}

/** What there is to say about a stage: what, where, how much against which limit, why, and what to do. */
export function Findings({ findings, onShow, onRemedy, settled, unsettled = false, still = false }: Props) {
  const strip = useRef<HTMLElement>(null)
  const [height, setHeight] = useState<number>()
  useLayoutEffect(() => setHeight(still ? strip.current?.offsetHeight : undefined), [still])
  const [open, setOpen] = useState<string | null>(null)
  const sorted = findings.toSorted((a, b) => order[a.severity] - order[b.severity])
  return (
    <section ref={strip} className={classes.strip} style={{ height }} aria-label="Findings">
      {sorted.length === 0 && (
        <p className={classes.settled}>
          {!unsettled && <Sign severity="ok" />} {settled ?? 'Nothing stands against this stage.'}
        </p>
      )}
      <ul>
        {sorted.map((f, i) => {
          const id = `${f.what}${i}`
          return (
            <li key={id} className={classes.finding}>
              <Sign severity={f.severity} />
              <div>
                <strong className={classes[f.severity]}>{word[f.severity]}</strong>{' '}
                {f.where && onShow ? (
                  <button type="button" className="quiet" onClick={() => onShow(f)} title="Show the place">
                    {f.what}
                  </button>
                ) : (
                  f.what
                )}
                {f.height !== undefined && (
                  <span className={classes.figure}>
                    at <Qty value={f.height} kind="length" />
                  </span>
                )}
                {f.figure && (
                  <span className={classes.figure}>
                    <Qty value={f.figure.value} kind={f.figure.kind} />
                  </span>
                )}{' '}
                <button type="button" className={classes.why} aria-expanded={open === id} onClick={() => setOpen(open === id ? null : id)}>
                  why
                </button>
                {open === id && (
                  <p className={classes.reason}>
                    {f.why}
                    {f.limit && (
                      <>
                        {' '}
                        Limit <Qty value={f.limit.value} kind={f.limit.kind} />.
                      </>
                    )}
                    {f.source && <span className="soft"> Source: {f.source}.</span>}
                  </p>
                )}
              </div>
              <div className={classes.remedies}>
                {f.remedies.map((r, k) => (
                  <Button key={r.label} size="xs" variant={k === 0 ? 'filled' : 'default'} onClick={() => onRemedy(r)}>
                    {r.label}
                  </Button>
                ))}
              </div>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
