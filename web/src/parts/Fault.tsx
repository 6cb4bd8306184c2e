import { Button } from '@mantine/core'
import { asProblem } from '../api/client'

/** A view that could not be loaded: what happened, what to do, and a way to try again. */
export function Fault({ thrown, retry }: { thrown: unknown; retry?: () => void }) {
  const p = asProblem(thrown)
  return (
    <div role="alert" style={{ padding: 24, maxWidth: 560 }}>
      <h1>{p.title}</h1>
      <p>{p.detail}</p>
      {retry && <Button onClick={retry}>Try again</Button>}
    </div>
  )
}
