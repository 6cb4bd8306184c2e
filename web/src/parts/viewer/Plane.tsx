import { useThree, type ThreeEvent } from '@react-three/fiber'
import { useMemo, useRef } from 'react'
import { BufferGeometry, Float32BufferAttribute, Plane as MathPlane, Raycaster, Vector2, Vector3 } from 'three'
import type { MouldPlan } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import { cross, dir, span } from '../axes'
import type { Cut } from '../Sounding'

interface Props {
  box: MouldPlan['box']
  /** How high the cavity is, mm. */
  top: number
  cut: Cut
  setCut?: (offset: number) => void
  up: readonly [number, number, number]
  tokens: Tokens
}

/** The section plane as a frame in the mould, moved by its grip. */
export function Plane({ box, top, cut, setCut, up, tokens }: Props) {
  const { camera, gl, controls } = useThree()
  const normal = dir(cut.axis)
  const across = cross(up, normal)
  const { low: boxLow, high: boxHigh } = box
  const [s0, s1] = span(boxLow, boxHigh, across)
  const [h0, h1] = span(boxLow, boxHigh, up)
  const corner = (s: number, h: number) => [0, 1, 2].map((k) => normal[k] * cut.offset + across[k] * s + up[k] * h)
  const corners = [corner(s0, h0), corner(s1, h0), corner(s1, h1), corner(s0, h1)]
  const key = corners.flat().join()
  const geometry = useMemo(() => {
    const c = key.split(',').map(Number)
    const g = new BufferGeometry()
    g.setAttribute('position', new Float32BufferAttribute([...c, ...c.slice(0, 3)], 3))
    return g
  }, [key])
  const dragging = useRef(false)

  function grab(e: ThreeEvent<PointerEvent>) {
    if (!setCut) return
    e.stopPropagation()
    dragging.current = true
    const orbit = controls as { enabled: boolean } | null
    if (orbit) orbit.enabled = false
    const n = new Vector3(...normal)
    const start = new Vector3(...(corner(s0, h1) as [number, number, number]))
    // the plane through the grip that holds the normal and faces the eye best
    const eye = camera.getWorldDirection(new Vector3())
    const face = eye.clone().addScaledVector(n, -eye.dot(n)).normalize()
    const slide = new MathPlane().setFromNormalAndCoplanarPoint(face, start)
    const [low, high] = span(boxLow, boxHigh, normal)
    const ray = new Raycaster()
    const hit = new Vector3()
    const move = (event: PointerEvent) => {
      const r = gl.domElement.getBoundingClientRect()
      ray.setFromCamera(new Vector2(((event.clientX - r.left) / r.width) * 2 - 1, 1 - ((event.clientY - r.top) / r.height) * 2), camera)
      if (ray.ray.intersectPlane(slide, hit)) setCut(Math.min(high, Math.max(low, hit.dot(n))))
    }
    const stop = () => {
      dragging.current = false
      if (orbit) orbit.enabled = true
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', stop)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', stop)
  }

  return (
    <>
      <line>
        <primitive object={geometry} attach="geometry" />
        <lineBasicMaterial color={tokens.level} />
      </line>
      {setCut && (
        <mesh position={corner(s0, h1) as [number, number, number]} renderOrder={8} onPointerDown={grab}>
          <boxGeometry args={[top * 0.05, top * 0.05, top * 0.05]} />
          <meshBasicMaterial color={tokens.level} depthTest={false} transparent />
        </mesh>
      )}
    </>
  )
}
