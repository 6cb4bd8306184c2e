import { lazy, Suspense } from 'react'
import type { SceneProps } from './Scene'
import classes from './Viewer.module.css'

const Scene = lazy(() => import('./Scene'))

/** The 3D view. It comes in a chunk of its own, so that the page is there first. */
export function Viewer(props: SceneProps) {
  return (
    <Suspense fallback={<div className={classes.wait}>The drawing is on its way…</div>}>
      <Scene {...props} />
    </Suspense>
  )
}
