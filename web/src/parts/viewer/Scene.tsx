import { Canvas, useThree, type ThreeEvent } from '@react-three/fiber'
import { useEffect, useMemo, useRef, useState, type Ref } from 'react'
import { Matrix4, Mesh, Quaternion, Vector3 } from 'three'
import type { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { asProblem, type Axis, type Build, type Job, type MouldPlan, type Study } from '../../api/client'
import { useTokens, type Tokens } from '../../theme/useTokens'
import { dir } from '../axes'
import type { Cut } from '../Sounding'
import { Air, Dry } from './Air'
import { useAim } from './aim'
import { Camera, FrameCounter } from './Camera'
import { Channels, type Grabbed } from './Channels'
import { Drawn } from './Drawn'
import { useChartMaterial } from './chart'
import { contourStep, extent } from './extent'
import { paintedSurface, useDrawing, type Drawing, type Near } from './geometry'
import { Arrow, BoxLines, Grip, Marker, Spot } from './marks'
import { Pace } from './Pace'
import { Pieces } from './Pieces'
import { shapeKey } from './shapeKey'
import { Plane } from './Plane'
import classes from './Viewer.module.css'

export interface ViewHandle {
  lookAt: (point: readonly number[]) => void
}

/** What keys do to the eye. */
export interface Eye {
  /** Goes round what is looked at, in degrees: to the right, and up. */
  orbit: (right: number, up: number) => void
  zoom: (by: number) => void
  /** What lies on the part under a place of the view, from -1 to 1 each way; null beside it. */
  under: (x: number, y: number) => [number, number, number] | null
}

/** A place that can be dragged along the axes. */
export interface Handle {
  at: readonly [number, number, number]
  onMove: (at: [number, number, number]) => void
}

/** The foot of a vent. */
interface Foot {
  at: readonly number[]
}

export interface SceneProps {
  job: Job
  label: string
  up: Axis
  /** The mould's box, and where the master lies in each cavity of a gang. */
  box?: MouldPlan['box']
  places?: MouldPlan['places']
  /** How high what is poured may rise, mm, over which floor along the way up. */
  tall?: number
  floor?: number
  /** What the resin does, where the cavity is shown filled. */
  gates?: Study['gates']
  /** Where the vents' feet are, while a hand drags one and the answer is on its way. */
  feet?: readonly Foot[]
  /** part alone, mould together or apart, or the cavity filled to the level */
  show: 'part' | 'together' | 'apart' | 'filled'
  level?: number
  cut?: Cut
  setCut?: (offset: number) => void
  adding?: boolean
  onAdd?: (at: [number, number, number]) => void
  /** Leads a vent or a gate, by where it meets the master; the sprue, by where it stands in the box. */
  onChannel?: (what: Grabbed, at: [number, number, number], settled: boolean) => void
  marked?: readonly number[] | null
  /** A way up that is no axis of the mesh. */
  upVector?: readonly [number, number, number]
  paint?: { key: string; faces: Uint8Array; colours: readonly string[] }
  /** Something else than the job's master. */
  instead?: Drawing
  /** The view fits itself anew when this changes, not with every new shape. */
  fit?: string
  handle?: Handle
  /** The mould in its pieces. */
  build?: Build | null
  /** Places to point at. */
  spots?: readonly (readonly number[])[]
  /** A direction to show beside the part. */
  arrow?: readonly [number, number, number]
  ref?: Ref<ViewHandle>
}

const views: { label: string; from: [number, number, number] }[] = [
  { label: 'Fit', from: [0, 0, 0] },
  { label: 'Front', from: [0, -1, 0] },
  { label: 'Back', from: [0, 1, 0] },
  { label: 'Left', from: [-1, 0, 0] },
  { label: 'Right', from: [1, 0, 0] },
  { label: 'Top', from: [0, 0, 1] },
  { label: 'Below', from: [0, 0, -1] },
]

/** Marks what can be pressed and aimed at. */
const thePart = { part: true }

/** Where a single cavity's master lies. */
const onItsOwn = new Matrix4()

const slant: [number, number, number] = [-0.62, -1, 0.62]

export default function Scene(props: SceneProps) {
  const tokens = useTokens()
  const [near, setNear] = useState<Near | null>(null)
  const own = useDrawing(props.job, near)
  const drawing = props.instead ?? own.drawing
  const [lost, setLost] = useState(false)
  const frame = useRef<HTMLDivElement>(null)
  const eye = useRef<Eye>(null)
  const aim = useAim(props, eye, () => look([0, 0, 0]))
  const [view, setView] = useState<{ from: [number, number, number]; count: number }>({ from: slant, count: 0 })
  if (lost) return <Drawn {...props} why="The browser took the drawing away." again={() => setLost(false)} />
  if (!props.instead && own.error) {
    const p = asProblem(own.error)
    return (
      <div className={classes.fault} role="alert">
        <strong>{p.title}</strong>
        <p>{p.detail}</p>
      </div>
    )
  }
  const look = (from: [number, number, number]) =>
    setView((v) => ({ from: from[0] || from[1] || from[2] ? from : v.from, count: v.count + 1 }))
  return (
    <div ref={frame} className={classes.frame} role="group" aria-label={props.label} tabIndex={0} onKeyDown={aim.onKey}>
      {drawing ? (
        <Canvas
          key={tokens.paper}
          orthographic
          frameloop="demand"
          flat
          dpr={[0.5, 2]}
          resize={{ debounce: 150 }}
          onCreated={({ gl }) => {
            // one that the page itself has put away is none of this view's any more
            gl.domElement.addEventListener('webglcontextlost', () => frame.current?.contains(gl.domElement) && setLost(true))
            gl.localClippingEnabled = true
            gl.debug.checkShaderErrors = import.meta.env.DEV
          }}
        >
          <color attach="background" args={[tokens.paper]} />
          <Contents {...props} drawing={drawing} tokens={tokens} view={view} onNear={own.thinned ? setNear : undefined} eye={eye} />
        </Canvas>
      ) : (
        <div className={classes.wait}>Reading the mesh…</div>
      )}
      {aim.at && (
        <span className={classes.aim} style={{ left: `${50 + 50 * aim.at[0]}%`, top: `${50 - 50 * aim.at[1]}%` }}>
          <span className={classes.aimSays} role="status">
            {aim.says}
          </span>
        </span>
      )}
      <div className={classes.views}>
        <button type="button" onClick={() => look(slant)}>
          Slant
        </button>
        {views.map((v) => (
          <button key={v.label} type="button" onClick={() => look(v.from)}>
            {v.label}
          </button>
        ))}
      </div>
    </div>
  )
}

interface ContentsProps extends SceneProps {
  drawing: Drawing
  tokens: Tokens
  view: { from: [number, number, number]; count: number }
  onNear: ((near: Near | null) => void) | undefined
  eye: Ref<Eye>
}

function Contents({
  drawing,
  onNear,
  eye,
  tokens,
  view,
  up,
  box,
  places,
  tall,
  floor: mouldFloor,
  gates,
  feet,
  show,
  level,
  cut,
  setCut,
  adding,
  onAdd,
  onChannel,
  marked,
  job,
  upVector,
  paint,
  spots,
  arrow,
  fit,
  handle,
  build,
  ref,
}: ContentsProps) {
  const { invalidate, controls } = useThree()
  const hold = (still: boolean) => {
    if (controls) (controls as OrbitControls).enabled = !still
  }
  const upDir = upVector ?? dir(up)
  const { surface, creases } = drawing
  const painted = useMemo(() => paint && paintedSurface(drawing, paint.faces, paint.colours), [drawing, paint])
  const [partFloor, partTop] = useMemo(() => extent(surface, upVector ?? dir(up)), [surface, upVector, up])
  const floor = mouldFloor ?? partFloor
  const rise = show === 'filled' ? gates?.rise : undefined
  const height = level !== undefined ? (rise?.heights[level] ?? -1) : -1
  const top = tall ?? partTop - partFloor
  const interval = contourStep(top)
  const material = useChartMaterial({
    tokens,
    dry: tokens.master,
    up: upDir,
    floor,
    level: height,
    low: rise?.partLow ?? 0,
    interval,
    painted: Boolean(painted),
  })
  const around = box && show !== 'part' ? [...box.low, ...box.high].join() : ''
  const [boxed, setBoxed] = useState(around) // the box that the view is fitted to: not while a hand makes it grow
  const dragged = useRef<{ what: Grabbed; last?: [number, number, number] } | null>(null)
  const [held, setHeld] = useState<Grabbed | null>(null)
  const settle = () => {
    const d = dragged.current
    dragged.current = null
    setHeld(null)
    if (d?.last) onChannel?.(d.what, d.last, true)
  }
  const lead = (e: ThreeEvent<PointerEvent>, kinds: readonly Grabbed['kind'][], at: [number, number, number]) => {
    if (dragged.current === null || !kinds.includes(dragged.current.what.kind)) return
    e.stopPropagation()
    dragged.current.last = at
    onChannel?.(dragged.current.what, at, false)
  }

  if (held === null && boxed !== around) setBoxed(around)

  useEffect(() => invalidate())
  const mould = show === 'together' || show === 'apart'
  // where the master lies in each cavity; alone, it can be pressed and dragged
  const ganged = (places && places.length > 1 && show !== 'part' ? places : []).map(
    (p) => new Matrix4(p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], p[8], p[9], p[10], p[11], 0, 0, 0, 1),
  )

  const at = (e: ThreeEvent<PointerEvent>): [number, number, number] => [e.point.x, e.point.y, e.point.z]

  return (
    <>
      <Camera
        view={view}
        geometry={surface}
        fit={fit ?? shapeKey(job)}
        onNear={onNear}
        box={boxed}
        up={upDir}
        show={show}
        handle={ref}
        eye={eye}
      />
      <FrameCounter foot={handle?.at ?? highestVent(gates)} />
      <Pace />
      {(show !== 'together' || !build) &&
        ganged.map((m, i) => {
          const onMaster = (e: ThreeEvent<PointerEvent>) => e.point.clone().applyMatrix4(m.clone().invert()).toArray()
          const wanted = adding || held?.kind === 'vent' || held?.kind === 'gate' // else nobody asks what lies under the pointer
          return (
            <mesh
              key={i}
              geometry={surface}
              material={material}
              matrixAutoUpdate={false}
              matrix={m}
              matrixWorldNeedsUpdate
              userData={thePart}
              raycast={wanted ? Mesh.prototype.raycast : unseen}
              onPointerDown={(e) => {
                if (adding && e.button === 0) {
                  e.stopPropagation()
                  onAdd?.(onMaster(e))
                }
              }}
              onPointerMove={(e) => lead(e, onThePart, onMaster(e))}
              onPointerUp={settle}
            />
          )
        })}
      {(show !== 'together' || !build) && ganged.length === 0 && (
        <mesh
          geometry={painted ?? surface}
          material={material}
          userData={thePart}
          onPointerDown={(e) => {
            if (adding && e.button === 0) {
              e.stopPropagation()
              onAdd?.(at(e))
            }
          }}
          onDoubleClick={(e) => {
            if (onAdd) onAdd([e.point.x, e.point.y, e.point.z])
          }}
          onPointerMove={(e) => lead(e, onThePart, at(e))}
          onPointerUp={settle}
        />
      )}
      {(show !== 'together' || !build) && ganged.length === 0 && (
        <lineSegments geometry={creases}>
          <lineBasicMaterial color={tokens.ink} transparent opacity={0.65} />
        </lineSegments>
      )}
      {mould && build && <Pieces job={job} build={build} tokens={tokens} apart={show === 'apart'} />}
      {box && show !== 'part' && (rise || !build) && <BoxLines box={box} tokens={tokens} />}
      {rise &&
        gates &&
        (ganged.length > 0 ? ganged : [onItsOwn]).map((m, i) => (
          <group key={i} matrix={m} matrixAutoUpdate={false}>
            <Dry rise={rise} tokens={tokens} height={height - (rise.lifts?.[i] ?? 0)} up={upDir} />
            <Air rise={rise} tokens={tokens} height={height - (rise.lifts?.[i] ?? 0)} up={upDir} />
          </group>
        ))}
      {rise && gates && (
        <Channels
          gates={gates}
          feet={ganged.length === 0 ? feet : undefined}
          tokens={tokens}
          onGrab={
            onChannel &&
            ((what) => {
              dragged.current = { what }
              setHeld(what)
              hold(true)
            })
          }
          onDrop={() => {
            settle() // let go beside the part, it stays where it last touched
            hold(false)
          }}
        />
      )}
      {held?.kind === 'sprue' && box && held.at && (
        <Deck
          box={box}
          at={held.at}
          up={upDir}
          onMove={(e) =>
            lead(
              e,
              ['sprue'],
              new Vector3()
                .fromArray(held.by ?? [0, 0, 0])
                .add(e.point)
                .toArray(),
            )
          }
          onUp={settle}
        />
      )}
      {rise && box && cut && <Plane box={box} top={top} cut={cut} setCut={setCut} up={upDir} tokens={tokens} />}
      {spots?.map((at, i) => (
        <Spot key={i} at={at} tokens={tokens} size={top * 0.022} />
      ))}
      {handle && <Grip handle={handle} hold={hold} tokens={tokens} />}
      {arrow && <Arrow geometry={surface} along={arrow} tokens={tokens} />}
      {marked && <Marker at={marked} tokens={tokens} size={top * 0.03} />}
    </>
  )
}

const unseen = () => undefined

/** What is led over the surface of a part. */
const onThePart = ['vent', 'gate'] as const

/** A level as high as the sprue is held, far round it: what it is led over. */
function Deck({
  box,
  at,
  up,
  onMove,
  onUp,
}: {
  box: MouldPlan['box']
  at: readonly number[]
  up: readonly number[]
  onMove: (e: ThreeEvent<PointerEvent>) => void
  onUp: () => void
}) {
  const size = 3 * Math.max(...box.high.map((v, k) => v - box.low[k]))
  const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 0, 1), new Vector3(...up))
  return (
    <mesh position={at as [number, number, number]} quaternion={turn} onPointerMove={onMove} onPointerUp={onUp}>
      <planeGeometry args={[size, size]} />
      <meshBasicMaterial transparent opacity={0} depthWrite={false} side={2} />
    </mesh>
  )
}

function highestVent(gates: Study['gates'] | undefined): readonly number[] | undefined {
  const vents = gates?.channels.filter((c) => c.kind === 'vent') ?? []
  return vents.toSorted((a, b) => b.foot - a.foot)[0]?.path[0]
}
