import { useFrame, useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import type { Material, Object3D } from 'three'

const look = 8 // ms until it is looked again whether a picture is done

/**
 * Draws the view, but no picture before the last one is done, nor before what
 * is new in it is ready to be drawn: on a slow machine a motion has fewer
 * pictures, and what a hand does is not kept waiting behind a queue of them.
 */
export function Pace() {
  const { invalidate } = useThree()
  const inWork = useRef<WebGLSync>(null)
  const later = useRef<ReturnType<typeof setTimeout>>(undefined)
  const ready = useRef(new WeakSet<Material>())
  const preparing = useRef(false)
  useEffect(() => () => clearTimeout(later.current), [])
  useFrame(({ gl, scene, camera }) => {
    if (preparing.current) return
    const fresh = materials(scene).filter((m) => !ready.current.has(m))
    if (fresh.length > 0) {
      preparing.current = true
      void gl.compileAsync(scene, camera).finally(() => {
        fresh.forEach((m) => ready.current.add(m))
        preparing.current = false
        invalidate()
      })
      return
    }
    const context = gl.getContext() as WebGL2RenderingContext
    if (inWork.current) {
      const done = context.isContextLost() || context.getSyncParameter(inWork.current, context.SYNC_STATUS) === context.SIGNALED
      if (!done) {
        clearTimeout(later.current)
        later.current = setTimeout(() => invalidate(), look)
        return
      }
      context.deleteSync(inWork.current)
    }
    gl.render(scene, camera)
    inWork.current = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0)
    context.flush()
  }, 1)
  return null
}

function materials(scene: Object3D): Material[] {
  const all: Material[] = []
  scene.traverse((o) => {
    if ('material' in o && o.material) all.push(...[o.material as Material].flat())
  })
  return all
}
