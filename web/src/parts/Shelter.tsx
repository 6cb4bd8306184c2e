import { Button } from '@mantine/core'
import type { ReactNode } from 'react'
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary'
import classes from './Shelter.module.css'

interface ShelterProps {
  /** What it is, as a sentence begins. */
  what: string
  /** It is tried again by itself when one of these changes. */
  resetKeys?: unknown[]
  children: ReactNode
}

/** Keeps what breaks down to itself: the rest of the page goes on, and says what to do. */
export function Shelter({ what, resetKeys, children }: ShelterProps) {
  return (
    <ErrorBoundary resetKeys={resetKeys} fallbackRender={(p) => <Wreck what={what} {...p} />}>
      {children}
    </ErrorBoundary>
  )
}

function Wreck({ what, error, resetErrorBoundary }: FallbackProps & { what: string }) {
  return (
    <div role="alert" className={classes.wreck}>
      <h1>{what} cannot be shown</h1>
      <p>
        {isOutdated(error)
          ? 'The page is older than the server, or the connection was lost on the way. Reload it: what was kept is kept.'
          : 'Something in it is not as the page expects. What was kept is kept; the rest of the page goes on.'}
      </p>
      <div className={classes.ways}>
        {!isOutdated(error) && <Button onClick={resetErrorBoundary}>Try again</Button>}
        <Button variant="default" onClick={() => window.location.reload()}>
          Reload the page
        </Button>
      </div>
    </div>
  )
}

/** Whether a part of the page could not be fetched, as after an upgrade of the server. */
export function isOutdated(error: unknown) {
  return error instanceof Error && /dynamically imported module|module script failed|preload/i.test(error.message)
}
