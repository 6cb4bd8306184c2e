import { lazy, Suspense } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import { Drawn } from './Drawn'
import type { SceneProps } from './Scene'
import { canDraw } from './canDraw'
import classes from './Viewer.module.css'

const Scene = lazy(() => import('./Scene'))

/**
 * The 3D view. It comes in a chunk of its own, so that the page is there first;
 * where it cannot be drawn, a picture that the server draws takes its place.
 */
export function Viewer(props: SceneProps) {
  if (!canDraw()) return <Drawn {...props} why="This browser draws nothing in 3D (WebGL is off or missing)." />
  return (
    <ErrorBoundary fallback={<Drawn {...props} why="The 3D view broke off." reload />} resetKeys={[props.job.id]}>
      <Suspense fallback={<div className={classes.wait}>The drawing is on its way…</div>}>
        <Scene {...props} />
      </Suspense>
    </ErrorBoundary>
  )
}
