import type { ReactNode } from 'react'
import classes from './Row.module.css'

/** A line of the side panel: what it is, and how much. */
export function Row({ label, children }: { label: ReactNode; children: ReactNode }) {
  return (
    <div className={classes.row}>
      <span>{label}</span>
      <span className={classes.value}>{children}</span>
    </div>
  )
}
