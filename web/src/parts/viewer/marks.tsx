import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef } from 'react'
import { ArrowHelper, BoxGeometry, BufferGeometry, Color, EdgesGeometry, Float32BufferAttribute, Object3D, Vector3 } from 'three'
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js'
import type { MouldPlan } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import type { Handle } from './Scene'

/** The inside of the box in lines: its walls and its ends. */
export function BoxLines({ box, tokens }: { box: MouldPlan['box']; tokens: Tokens }) {
  const { low: a, high: b } = box
  const geometry = useMemo(() => new EdgesGeometry(new BoxGeometry(b[0] - a[0], b[1] - a[1], b[2] - a[2])), [a, b])
  return (
    <lineSegments geometry={geometry} position={[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]}>
      <lineBasicMaterial color={tokens.ink} transparent opacity={0.55} />
    </lineSegments>
  )
}

/** Arrows along the axes that move a place. */
export function Grip({ handle, hold, tokens }: { handle: Handle; hold: (still: boolean) => void; tokens: Tokens }) {
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
export function Spot({ at, tokens, size }: { at: readonly number[]; tokens: Tokens; size: number }) {
  return (
    <mesh position={at as [number, number, number]} renderOrder={8} raycast={() => undefined}>
      <octahedronGeometry args={[size, 0]} />
      <meshBasicMaterial color={tokens.air} depthTest={false} transparent opacity={0.9} />
    </mesh>
  )
}

/** A direction through the middle of the part. */
export function Arrow({ geometry, along, tokens }: { geometry: BufferGeometry; along: readonly [number, number, number]; tokens: Tokens }) {
  const helper = useMemo(() => {
    const { center, radius } = geometry.boundingSphere!
    const d = new Vector3(...along).normalize()
    const from = center.clone().addScaledVector(d, radius * 0.85)
    const arrow = new ArrowHelper(d, from, radius * 0.45, tokens.level, radius * 0.14, radius * 0.08)
    return arrow
  }, [geometry, along, tokens])
  return <primitive object={helper} />
}

/** A cross at a place. */
export function Marker({ at, tokens, size }: { at: readonly number[]; tokens: Tokens; size: number }) {
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
