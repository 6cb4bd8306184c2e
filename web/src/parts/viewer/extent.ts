import type { BufferGeometry } from 'three'
import { dot } from '../axes'

/** Lowest and highest of a part along a way; of its box where the way is an axis. */
export function extent(geometry: BufferGeometry, up: readonly number[]): [number, number] {
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

/** An even step of level lines: about sixteen over a height. */
export function contourStep(top: number): number {
  const raw = top / 16
  const power = 10 ** Math.floor(Math.log10(Math.max(raw, 1e-6)))
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw) ?? raw
}
