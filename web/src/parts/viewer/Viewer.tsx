import { createContext, lazy, memo, Suspense, useContext, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { createPortal } from 'react-dom'
import { ErrorBoundary } from 'react-error-boundary'
import { Drawn } from './Drawn'
import type { SceneProps } from './Scene'
import { canDraw } from './canDraw'
import classes from './Viewer.module.css'

const Scene = lazy(() => import('./Scene'))

interface Home {
  element: HTMLElement
  show: (props: SceneProps) => void
}

const Home = createContext<Home | null>(null)

/**
 * Where the one 3D view of a job lives while stages come and go: a browser
 * takes long to begin one, and what it has loaded is kept.
 */
export function ViewHome({ children }: { children: ReactNode }) {
  const [props, show] = useState<SceneProps | null>(null)
  const home = useMemo(() => {
    const element = document.createElement('div')
    element.className = classes.home
    return { element, show }
  }, [])
  return (
    <Home.Provider value={home}>
      {children}
      {props && createPortal(<Shown {...props} />, home.element)}
    </Home.Provider>
  )
}

/** The 3D view, where a stage has its place for it. */
export const Viewer = memo(function Viewer(props: SceneProps) {
  const home = useContext(Home)
  const place = useRef<HTMLDivElement>(null)
  if (!home) throw new Error('Viewer needs a ViewHome around it')
  useLayoutEffect(() => {
    const { element } = home
    const canvas = element.querySelector('canvas')
    if (canvas) canvas.dataset.frames = '' // it shows what another stage had drawn
    place.current?.append(element)
    return () => element.remove()
  }, [home])
  useLayoutEffect(() => home.show(props), [home, props])
  return <div ref={place} className={classes.home} />
})

/** The view comes in a chunk of its own, so that the page is there first; where it cannot be drawn, a picture that the server draws takes its place. */
function Shown(props: SceneProps) {
  if (!canDraw()) return <Drawn {...props} why="This browser draws nothing in 3D (WebGL is off or missing)." />
  return (
    <ErrorBoundary
      fallbackRender={({ resetErrorBoundary }) => <Drawn {...props} why="The 3D view broke off." again={resetErrorBoundary} />}
      resetKeys={[props.job.id]}
    >
      <Suspense fallback={<div className={classes.wait}>The drawing is on its way…</div>}>
        <Scene {...props} />
      </Suspense>
    </ErrorBoundary>
  )
}
