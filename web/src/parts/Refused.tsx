import type { ReactNode } from 'react'
import type { Problem } from '../api/client'
import classes from './Refused.module.css'

/** What the server has against something, where it was asked for. */
export function Refused({ problem, children }: { problem: Problem | null; children?: ReactNode }) {
  if (!problem) return null
  return (
    <div role="alert" className={classes.refused}>
      <strong>◆ {problem.title}.</strong> {problem.detail}
      {children}
    </div>
  )
}

/** Something was typed and not sent yet: it stays, until it is sent or wiped out on purpose. */
export function Left({ left, clear }: { left: boolean; clear: () => void }) {
  if (!left) return null
  return (
    <span className={classes.left}>
      not sent yet ·{' '}
      <button type="button" className="quiet" onClick={clear}>
        wipe out what is typed
      </button>
    </span>
  )
}
