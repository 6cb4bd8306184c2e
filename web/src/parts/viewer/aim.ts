import { useState, type KeyboardEvent, type RefObject } from 'react'
import type { Eye, SceneProps } from './Scene'

const turn = 10 // degrees at a press
const step = 0.03 // of the half view
const closer = 1.25

/**
 * The 3D view by keys: the arrows go round the part, plus and minus come
 * closer and go back, Home sees all of it. Where a press on the part does
 * something, v brings a cross; the arrows move it then, and Enter presses.
 */
export function useAim({ onAdd }: Pick<SceneProps, 'onAdd'>, eye: RefObject<Eye | null>, fit: () => void) {
  const [aim, setAim] = useState<[number, number] | null>(null)
  const at = onAdd ? aim : null
  const [missed, setMissed] = useState(false)

  function onKey(e: KeyboardEvent) {
    if (e.target !== e.currentTarget || e.ctrlKey || e.metaKey || e.altKey) return
    const far = e.shiftKey ? 4 : 1
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key]
    const inside = (x: number) => Math.min(0.97, Math.max(-0.97, x))
    if (way && at) setAim([inside(at[0] + way[0] * step * far), inside(at[1] + way[1] * step * far)])
    else if (way) eye.current?.orbit(way[0] * turn * far, way[1] * turn * far)
    else if (e.key === '+' || e.key === '=') eye.current?.zoom(closer)
    else if (e.key === '-') eye.current?.zoom(1 / closer)
    else if (e.key === 'Home') fit()
    else if (e.key === 'v' && onAdd) setAim(at ? null : [0, 0])
    else if (e.key === 'Escape' && at) setAim(null)
    else if (e.key === 'Enter' && at) {
      const place = eye.current?.under(...at)
      setMissed(!place)
      if (place) {
        onAdd?.(place)
        setAim(null)
      }
      e.preventDefault()
      return
    } else return
    setMissed(false)
    e.preventDefault()
  }
  const says = missed ? 'No part under the cross' : 'Arrows move the cross, Enter presses the part there, Esc leaves'
  return { at, says, onKey }
}
