import { useFrame, useThree } from '@react-three/fiber'
import { useEffect, useImperativeHandle, useRef, type Ref } from 'react'
import { MathUtils, OrthographicCamera, Raycaster, Vector2, Vector3, type BufferGeometry, type Mesh } from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import type { Near } from './geometry'
import type { Eye, SceneProps, ViewHandle } from './Scene'

interface CameraProps {
  view: { from: [number, number, number]; count: number }
  geometry: BufferGeometry
  /** The view fits itself anew when this changes. */
  fit: string
  /** Corners of what is looked at, joined; empty for the part. */
  box: string
  up: readonly [number, number, number]
  show: SceneProps['show']
  handle: Ref<ViewHandle> | undefined
  eye: Ref<Eye>
  /** Told what is looked at closely once the eye rests there; null for all of it. */
  onNear: ((near: Near | null) => void) | undefined
}

/** Looks at the mould from one of the standard sides, up being up. */
export function Camera({ view, geometry, fit, box: boxKey, up, show, handle, eye, onNear }: CameraProps) {
  const { camera, gl, scene, size, invalidate, set } = useThree()
  const controls = useRef<OrbitControls | null>(null)
  const fitted = useRef(1) // the zoom at which all of it is seen

  useEffect(() => {
    const c = new OrbitControls(camera, gl.domElement)
    c.addEventListener('change', () => invalidate())
    controls.current = c
    set({ controls: c })
    return () => c.dispose()
  }, [camera, gl, invalidate, set])

  useEffect(() => {
    const c = controls.current
    if (!c || !onNear) return
    let timer: ReturnType<typeof setTimeout>
    const rest = () => {
      clearTimeout(timer)
      timer = setTimeout(() => onNear(closeUp(camera as OrthographicCamera, c.target, fitted.current, scene.children as Mesh[])), restMs)
    }
    c.addEventListener('change', rest)
    return () => {
      clearTimeout(timer)
      c.removeEventListener('change', rest)
    }
  }, [camera, scene, onNear])

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
    const from = new Vector3()
      .addScaledVector(x, view.from[0])
      .addScaledVector(y, view.from[1])
      .addScaledVector(z, view.from[2])
      .normalize()
    cam.up.copy(Math.abs(from.dot(z)) > 0.99 ? y : z)
    cam.position.copy(centre).addScaledVector(from, radius * 8)
    cam.near = radius * 0.5
    cam.far = radius * 20
    cam.zoom = Math.min(size.width, size.height * 1.18) / (radius * 2 * wide)
    fitted.current = cam.zoom
    cam.lookAt(centre)
    cam.updateProjectionMatrix()
    controls.current?.target.copy(centre)
    controls.current?.update()
    invalidate()
  }, [camera, fit, boxKey, view, size.width, size.height, up[0], up[1], up[2], show, invalidate]) // eslint-disable-line react-hooks/exhaustive-deps

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
  useImperativeHandle(eye, () => ({
    orbit: (right, rise) => {
      const c = controls.current
      if (!c) return
      const from = camera.position.clone().sub(c.target)
      from.applyAxisAngle(camera.up, MathUtils.degToRad(right))
      const across = new Vector3().crossVectors(camera.up, from).normalize()
      const lies = MathUtils.radToDeg(camera.up.angleTo(from)) // 0 from above
      from.applyAxisAngle(across, MathUtils.degToRad(Math.min(178, Math.max(2, lies - rise)) - lies))
      camera.position.copy(c.target).add(from)
      c.update()
      invalidate()
    },
    zoom: (by) => {
      camera.zoom *= by
      camera.updateProjectionMatrix()
      controls.current?.update()
      invalidate()
    },
    under: (x, y) => {
      const ray = new Raycaster()
      ray.setFromCamera(new Vector2(x, y), camera)
      const part = scene.children.filter((o) => o.userData.part)
      return (ray.intersectObjects(part, false)[0]?.point.toArray() as [number, number, number]) ?? null
    },
  }))
  return null
}

const restMs = 250
const closer = 1.8 // times the zoom at which all is seen

/** What a camera looks at closely: the ball round what its middle meets that fills the view; null where it sees most of it. */
function closeUp(camera: OrthographicCamera, target: Vector3, fitted: number, among: Mesh[]): Near | null {
  if (camera.zoom < closer * fitted) return null
  const ray = new Raycaster()
  ray.setFromCamera(new Vector2(), camera)
  const at = ray.intersectObjects(among, false)[0]?.point ?? target
  const radius = Math.hypot(camera.right - camera.left, camera.top - camera.bottom) / 2 / camera.zoom
  const step = 10 ** Math.floor(Math.log10(radius)) / 4 // nearly the same place is the same question
  const even = (x: number, up = 0) => Number(((Math.round(x / step) + up) * step).toPrecision(6))
  return [even(at.x), even(at.y), even(at.z), even(radius, 1)]
}

/** Writes how many frames were drawn and where the highest vent or the handle stands, so that a test can look and grab. */
export function FrameCounter({ foot }: { foot: readonly number[] | undefined }) {
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
