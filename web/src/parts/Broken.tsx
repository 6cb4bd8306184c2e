import { Button } from '@mantine/core'
import type { Problem } from '../api/client'
import classes from './Broken.module.css'

/** Work that failed, where it was asked for: what is wrong, and the way on. */
export function Broken({ problem, again }: { problem: Problem | null; again?: () => void }) {
  if (!problem) return null
  return (
    <div role="alert" className={classes.broken}>
      <span aria-hidden>◆</span>
      <p>
        <strong>{problem.title}.</strong> {problem.detail}
      </p>
      {again && (
        <Button size="compact-xs" variant="default" onClick={again}>
          Try again
        </Button>
      )}
    </div>
  )
}
