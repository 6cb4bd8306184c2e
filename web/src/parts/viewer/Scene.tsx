import { Canvas, useFrame, useThree, type ThreeEvent } from '@react-three/fiber'
import { useEffect, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react'
import {
  ArrowHelper, BoxGeometry, BufferGeometry, Color, EdgesGeometry, Float32BufferAttribute, InstancedMesh, Matrix4, Object3D, OrthographicCamera, Vector3,
} from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js'
import { asProblem, type Axis, type Job, type PiecedMould, type Study } from '../../api/client'
import { useTokens, type Tokens } from '../../theme/useTokens'
import { dir, dot } from '../axes'
import type { Cut } from '../Sounding'
import { Channels } from './Channels'
import { useChartMaterial } from './chart'
import { paintedGeometry, useGeometry } from './geometry'
import { Halves } from './Halves'
import { Pieces } from './Pieces'
import { Plane } from './Plane'
import classes from './Viewer.module.css'

export interface ViewHandle {
  lookAt: (point: readonly number[]) => void
}

/** A place that can be dragged along the axes. */
export interface Handle {
  at: readonly [number, number, number]
  onMove: (at: [number, number, number]) => void
}

export interface SceneProps {
  job: Job
  label: string
  up: Axis
  study?: Study
  draw?: Axis
  /** part alone, mould together or apart, or the cavity filled to the level */
  show: 'part' | 'together' | 'apart' | 'filled'
  level?: number
  cut?: Cut
  setCut?: (offset: number) => void
  adding?: boolean
  onAdd?: (at: [number, number, number]) => void
  onVent?: (index: number, at: [number, number, number], settled: boolean) => void
  marked?: readonly number[] | null
  /** A way up that is no axis of the mesh. */
  upVector?: readonly [number, number, number]
  paint?: { key: string; faces: Uint8Array; colours: readonly string[] }
  /** Something else than the job's master. */
  instead?: BufferGeometry
  /** The view fits itself anew when this changes, not with every new shape. */
  fit?: string
  handle?: Handle
  /** The mould in its pieces, instead of two halves. */
  pieces?: { mould: PiecedMould; halvesOnly: boolean }
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

const slant: [number, number, number] = [-0.62, -1, 0.62]

export default function Scene(props: SceneProps) {
  const tokens = useTokens()
  const own = useGeometry(props.job)
  const geometry = props.instead ? { data: props.instead, error: null } : own
  const [view, setView] = useState<{ from: [number, number, number]; count: number }>({ from: slant, count: 0 })
  if (geometry.error) {
    const p = asProblem(geometry.error)
    return (
      <div className={classes.fault} role="alert">
        <strong>{p.title}</strong>
        <p>{p.detail}</p>
      </div>
    )
  }
  const look = (from: [number, number, number]) => setView((v) => ({ from: from[0] || from[1] || from[2] ? from : v.from, count: v.count + 1 }))
  return (
    <div className={classes.frame} role="img" aria-label={props.label}>
      {geometry.data ? (
        <Canvas
          key={tokens.paper}
          orthographic
          frameloop="demand"
          flat
          dpr={[1, 2]}
          onCreated={({ gl }) => {
            gl.localClippingEnabled = true
          }}
        >
          <color attach="background" args={[tokens.paper]} />
          <Contents {...props} geometry={geometry.data} tokens={tokens} view={view} />
        </Canvas>
      ) : (
        <div className={classes.wait}>Reading the mesh…</div>
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

type ContentsProps = SceneProps & { geometry: BufferGeometry; tokens: Tokens; view: { from: [number, number, number]; count: number } }

function Contents({ geometry, tokens, view, up, study, draw, show, level, cut, setCut, adding, onAdd, onVent, marked, job, upVector, paint, spots, arrow, fit, handle, pieces, ref }: ContentsProps) {
  const { invalidate, controls } = useThree()
  const hold = (still: boolean) => {
    if (controls) (controls as OrbitControls).enabled = !still
  }
  const upDir = upVector ?? dir(up)
  const painted = useMemo(() => (paint && geometry.index && paint.faces.length * 3 === geometry.index.count ? paintedGeometry(geometry, paint.faces, paint.colours) : null), [geometry, paint])
  const rise = study && (show === 'filled' ? study.gates.rise : study.mould.pours[0])
  const floor = rise?.up === up ? rise.floor : geometryFloor(geometry, upDir)
  const filled = show === 'filled' && study !== undefined
  const levels = study?.gates.rise.levels ?? []
  const height = filled && level !== undefined ? (levels[level]?.height ?? -1) : -1
  const top = study ? study.gates.rise.top : partHeight(geometry, upDir)
  const interval = contourStep(top)
  const material = useChartMaterial({ tokens, dry: tokens.master, up: upDir, floor, level: height, low: study?.gates.rise.partLow ?? 0, interval, painted: painted !== null })
  const edges = useMemo(() => new EdgesGeometry(geometry, 62), [geometry])
  const dragged = useRef<{ vent: number; last?: [number, number, number] } | null>(null)
  const settle = () => {
    const d = dragged.current
    dragged.current = null
    if (d?.last) onVent?.(d.vent, d.last, true)
  }

  useEffect(() => invalidate())
  const ganged = (pieces?.mould.places ?? []).map((p) => new Matrix4(p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], p[8], p[9], p[10], p[11], 0, 0, 0, 1))

  const at = (e: ThreeEvent<PointerEvent>): [number, number, number] => [e.point.x, e.point.y, e.point.z]

  return (
    <>
      <Camera view={view} geometry={geometry} fit={fit} box={pieces ? [...pieces.mould.low, ...pieces.mould.high].join() : study && show !== 'part' ? [...study.mould.boxLow, ...study.mould.boxHigh].join() : ''} up={upDir} show={show} handle={ref} />
      <FrameCounter foot={handle?.at ?? highestVent(study)} />
      {show !== 'together' && ganged.map((m, i) => <mesh key={i} geometry={geometry} material={material} matrixAutoUpdate={false} matrix={m} raycast={() => undefined} />)}
      {show !== 'together' && ganged.length === 0 && (
        <mesh
          geometry={painted ?? geometry}
          material={material}
          onPointerDown={(e) => {
            if (adding && e.button === 0) {
              e.stopPropagation()
              onAdd?.(at(e))
            }
          }}
          onDoubleClick={(e) => {
            if (onAdd) onAdd([e.point.x, e.point.y, e.point.z])
          }}
          onPointerMove={(e) => {
            if (dragged.current !== null) {
              e.stopPropagation()
              dragged.current.last = at(e)
              onVent?.(dragged.current.vent, dragged.current.last, false)
            }
          }}
          onPointerUp={settle}
        />
      )}
      {show !== 'together' && ganged.length === 0 && (
        <lineSegments geometry={edges}>
          <lineBasicMaterial color={tokens.ink} transparent opacity={0.65} />
        </lineSegments>
      )}
      {pieces && <Pieces job={job} {...pieces} size={piecesApart(pieces.mould)} tokens={tokens} apart={show === 'apart'} />}
      {study && draw && !pieces && (show === 'apart' || show === 'together') && <Halves job={job} study={study} draw={draw} geometry={geometry} tokens={tokens} apart={show === 'apart'} />}
      {study && show === 'filled' && <BoxLines study={study} tokens={tokens} />}
      {filled && <Air study={study} tokens={tokens} height={height} up={upDir} />}
      {study && show === 'filled' && (
        <Channels
          study={study}
          tokens={tokens}
          up={upDir}
          onGrab={
            onVent &&
            ((vent) => {
              dragged.current = { vent }
            })
          }
          onDrop={() => {
            settle() // let go beside the part, it stays where it last touched
            hold(false)
          }}
        />
      )}
      {study && cut && show === 'filled' && <Plane study={study} cut={cut} setCut={setCut} up={upDir} tokens={tokens} />}
      {spots?.map((at, i) => (
        <Spot key={i} at={at} tokens={tokens} size={top * 0.022} />
      ))}
      {handle && <Grip handle={handle} hold={hold} tokens={tokens} />}
      {arrow && <Arrow geometry={geometry} along={arrow} tokens={tokens} />}
      {marked && <Marker at={marked} tokens={tokens} size={top * 0.03} />}
    </>
  )
}

function highestVent(study: Study | undefined): readonly number[] | undefined {
  const vents = study?.gates.channels.filter((c) => c.kind === 'vent') ?? []
  return vents.toSorted((a, b) => b.foot - a.foot)[0]?.path[0]
}

/** By how much pieces are moved apart: the mould's longest side, but no more than three times its shortest. */
function piecesApart(mould: PiecedMould): number {
  const sides = mould.high.map((h, i) => h - mould.low[i])
  return Math.min(Math.max(...sides), 3 * Math.min(...sides))
}

function contourStep(top: number): number {
  const raw = top / 16
  const power = 10 ** Math.floor(Math.log10(Math.max(raw, 1e-6)))
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw) ?? raw
}

function geometryFloor(geometry: BufferGeometry, up: readonly number[]): number {
  return extent(geometry, up)[0]
}

function partHeight(geometry: BufferGeometry, up: readonly number[]): number {
  const [low, high] = extent(geometry, up)
  return high - low
}

/** Lowest and highest of the part along a way; of its box where the way is an axis. */
function extent(geometry: BufferGeometry, up: readonly number[]): [number, number] {
  const box = geometry.boundingBox!
  let [low, high] = [Infinity, -Infinity]
  if (up.filter((x) => Math.abs(x) > 1e-9).length === 1) {
    for (const p of [box.min, box.max]) {
      const h = dot(p.toArray(), up)
      low = Math.min(low, h)
      high = Math.max(high, h)
    }
    return [low, high]
  }
  const at = geometry.getAttribute('position')
  for (let i = 0; i < at.count; i++) {
    const h = at.getX(i) * up[0] + at.getY(i) * up[1] + at.getZ(i) * up[2]
    low = Math.min(low, h)
    high = Math.max(high, h)
  }
  return [low, high]
}

interface CameraProps {
  view: { from: [number, number, number]; count: number }
  geometry: BufferGeometry
  fit: string | undefined
  /** Corners of what is looked at, joined; empty for the part. */
  box: string
  up: readonly [number, number, number]
  show: SceneProps['show']
  handle: Ref<ViewHandle> | undefined
}

/** Looks at the mould from one of the standard sides, up being up. */
function Camera({ view, geometry, fit, box: boxKey, up, show, handle }: CameraProps) {
  const { camera, gl, size, invalidate, set } = useThree()
  const controls = useRef<OrbitControls | null>(null)

  useEffect(() => {
    const c = new OrbitControls(camera, gl.domElement)
    c.addEventListener('change', () => invalidate())
    controls.current = c
    set({ controls: c })
    return () => c.dispose()
  }, [camera, gl, invalidate, set])

  useEffect(() => {
    const cam = camera as OrthographicCamera
    const box = geometry.boundingBox!
    const low = boxKey ? boxKey.split(',').slice(0, 3).map(Number) : box.min.toArray()
    const high = boxKey ? boxKey.split(',').slice(3).map(Number) : box.max.toArray()
    const centre = new Vector3().fromArray(low).add(new Vector3().fromArray(high)).multiplyScalar(0.5)
    const radius = new Vector3().fromArray(high).sub(new Vector3().fromArray(low)).length() / 2
    const wide = show === 'apart' ? 1.3 : 1
    // The slant is given for z up; carry it over to the way up at hand.
    const z = new Vector3(...up)
    const x = Math.abs(z.x) > 0.5 ? new Vector3(0, 1, 0) : new Vector3(1, 0, 0)
    const y = new Vector3().crossVectors(z, x)
    const from = new Vector3().addScaledVector(x, view.from[0]).addScaledVector(y, view.from[1]).addScaledVector(z, view.from[2]).normalize()
    cam.up.copy(Math.abs(from.dot(z)) > 0.99 ? y : z)
    cam.position.copy(centre).addScaledVector(from, radius * 8)
    cam.near = radius * 0.5
    cam.far = radius * 20
    cam.zoom = Math.min(size.width, size.height * 1.18) / (radius * 2 * wide)
    cam.lookAt(centre)
    cam.updateProjectionMatrix()
    controls.current?.target.copy(centre)
    controls.current?.update()
    invalidate()
  }, [camera, fit ?? geometry, boxKey, view, size.width, size.height, up[0], up[1], up[2], show, invalidate]) // eslint-disable-line react-hooks/exhaustive-deps

  useImperativeHandle(handle, () => ({
    lookAt: (point) => {
      const c = controls.current
      if (!c) return
      const shift = new Vector3().fromArray(point as number[]).sub(c.target)
      camera.position.add(shift)
      c.target.add(shift)
      c.update()
      invalidate()
    },
  }))
  return null
}

/** Writes how many frames were drawn and where the highest vent or the handle stands, so that a test can look and grab. */
function FrameCounter({ foot }: { foot: readonly number[] | undefined }) {
  const { gl, camera } = useThree()
  const count = useRef(0)
  useFrame(() => {
    count.current++
    const { dataset } = gl.domElement
    dataset.frames = String(count.current)
    if (foot) {
      const at = new Vector3().fromArray(foot as number[]).project(camera)
      dataset.footX = String((at.x + 1) / 2)
      dataset.footY = String((1 - at.y) / 2)
    }
  })
  return null
}

function BoxLines({ study, tokens }: { study: Study; tokens: Tokens }) {
  const { boxLow: a, boxHigh: b } = study.mould
  const geometry = useMemo(() => new EdgesGeometry(new BoxGeometry(b[0] - a[0], b[1] - a[1], b[2] - a[2])), [a, b])
  return (
    <lineSegments geometry={geometry} position={[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]}>
      <lineBasicMaterial color={tokens.ink} transparent opacity={0.55} />
    </lineSegments>
  )
}

/** The pockets that the level has shut in, column by column. */
function Air({ study, tokens, height, up }: { study: Study; tokens: Tokens; height: number; up: readonly [number, number, number] }) {
  const ref = useRef<InstancedMesh>(null)
  const { air, pockets } = study.gates.rise
  const { stretches, cell } = air
  const count = stretches.length / 5
  useEffect(() => {
    const mesh = ref.current
    if (!mesh) return
    const m = new Matrix4()
    const wide = [0, 1, 2].map((k) => (up[k] ? 0 : cell * 1.02))
    let shown = 0
    for (let i = 0; i < stretches.length; i += 5) {
      const pocket = pockets[stretches[i + 4]]
      if (!pocket || !(pocket.isolated || pocket.sealHeight < height - 1e-6)) continue
      const tall = stretches[i + 3]
      const size = wide.map((w) => w || tall)
      m.makeScale(size[0], size[1], size[2])
      m.setPosition(stretches[i] + (up[0] * tall) / 2, stretches[i + 1] + (up[1] * tall) / 2, stretches[i + 2] + (up[2] * tall) / 2)
      mesh.setMatrixAt(shown++, m)
    }
    mesh.count = shown
    mesh.instanceMatrix.needsUpdate = true
    mesh.computeBoundingSphere()
  })
  if (count === 0) return null
  return (
    <instancedMesh key={count} ref={ref} args={[undefined, undefined, count]} renderOrder={5} raycast={() => undefined}>
      <boxGeometry args={[1, 1, 1]} />
      <meshBasicMaterial color={tokens.air} depthTest={false} transparent opacity={0.8} />
    </instancedMesh>
  )
}

/** Arrows along the axes that move a place. */
function Grip({ handle, hold, tokens }: { handle: Handle; hold: (still: boolean) => void; tokens: Tokens }) {
  const { camera, gl, scene, invalidate } = useThree()
  const target = useMemo(() => new Object3D(), [])
  const move = useRef(handle.onMove)
  useEffect(() => {
    move.current = handle.onMove
  })
  useEffect(() => {
    scene.add(target)
    const c = new TransformControls(camera, gl.domElement)
    c.attach(target)
    c.size = 0.75
    c.setColors(tokens.air, tokens.ok, tokens.level, tokens.watch)
    c.translationSnap = 0.5
    scene.add(c.getHelper())
    const redraw = () => invalidate()
    c.addEventListener('change', redraw)
    c.addEventListener('dragging-changed', (e) => hold(Boolean(e.value)))
    c.addEventListener('objectChange', () => move.current(target.position.toArray()))
    return () => {
      hold(false)
      scene.remove(c.getHelper(), target)
      c.dispose()
      invalidate()
    }
  }, [camera, gl, scene, target, tokens, invalidate]) // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    target.position.fromArray(handle.at as [number, number, number])
    target.updateMatrixWorld()
    invalidate()
  }, [handle.at, target, invalidate])
  return null
}

/** Air that stays: a ball of the chart's magenta, seen through the part. */
function Spot({ at, tokens, size }: { at: readonly number[]; tokens: Tokens; size: number }) {
  return (
    <mesh position={at as [number, number, number]} renderOrder={8} raycast={() => undefined}>
      <octahedronGeometry args={[size, 0]} />
      <meshBasicMaterial color={tokens.air} depthTest={false} transparent opacity={0.9} />
    </mesh>
  )
}

/** A direction through the middle of the part. */
function Arrow({ geometry, along, tokens }: { geometry: BufferGeometry; along: readonly [number, number, number]; tokens: Tokens }) {
  const helper = useMemo(() => {
    const { center, radius } = geometry.boundingSphere!
    const d = new Vector3(...along).normalize()
    const from = center.clone().addScaledVector(d, radius * 0.85)
    const arrow = new ArrowHelper(d, from, radius * 0.45, tokens.level, radius * 0.14, radius * 0.08)
    return arrow
  }, [geometry, along, tokens])
  return <primitive object={helper} />
}

function Marker({ at, tokens, size }: { at: readonly number[]; tokens: Tokens; size: number }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry()
    const c: number[] = []
    for (const k of [0, 1, 2]) {
      for (const s of [-1, 1]) c.push(...[0, 1, 2].map((i) => at[i] + (i === k ? s * size : 0)))
    }
    g.setAttribute('position', new Float32BufferAttribute(c, 3))
    return g
  }, [at, size])
  return (
    <lineSegments geometry={geometry} renderOrder={9}>
      <lineBasicMaterial color={new Color(tokens.air)} depthTest={false} />
    </lineSegments>
  )
}
