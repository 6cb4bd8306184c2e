import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { reach } from './reach'
import classes from './Sounding.module.css'

type Point = [number, number, number]

/** What a hand does to the vents in the section. */
export interface VentHands {
  feet: readonly { at: readonly number[]; bore: number }[]
  onMove: (i: number, at: Point, settled: boolean) => void
  onRemove: (i: number) => void
  onAdd: (at: Point) => void
}

interface Props extends VentHands {
  /** Whether a place lies so near the plane that it is drawn in it. */
  near: (at: readonly number[], within: number) => boolean
  /** Where a place stands in the picture. */
  flat: (at: readonly number[]) => [number, number]
  /** The place of the surface in the plane that is nearest to one of the picture; null where the plane meets nothing. */
  onSurface: (x: number, y: number) => Point | null
  /** Picture units a mm. */
  scale: number
}

/** The feet of the vents that stand in the section: dragged along the surface, or led by keys. */
export function VentFeet({ feet, near, flat, onSurface, scale, onMove, onRemove }: Props) {
  const dragged = useRef<{ i: number; last: Point | null } | null>(null)

  function follow(e: PointerEvent<SVGGElement>) {
    const matrix = e.currentTarget.ownerSVGElement?.getScreenCTM()
    if (!dragged.current || !matrix) return
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse())
    const at = onSurface(p.x, p.y)
    if (!at) return
    dragged.current.last = at
    onMove(dragged.current.i, at, false)
  }

  function onKey(e: KeyboardEvent, i: number) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
    if (e.key === 'Delete' || e.key === 'Backspace') onRemove(i)
    else if (way) {
      const [x, y] = flat(feet[i].at)
      const far = (e.shiftKey ? 5 : 0.5) * scale
      const at = onSurface(x + way[0] * far, y + way[1] * far)
      if (at) onMove(i, at, true)
    } else return
    e.preventDefault()
    e.stopPropagation()
  }

  return feet.map((v, i) => {
    if (!near(v.at, Math.max(v.bore, 4))) return null
    const [x, y] = flat(v.at)
    return (
      <g
        key={i}
        className={classes.foot}
        role="button"
        tabIndex={0}
        aria-label={`Foot of vent ${i + 1}; arrow keys lead it along the surface, Delete takes it away`}
        onKeyDown={(e) => onKey(e, i)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId)
          dragged.current = { i, last: null }
        }}
        onPointerMove={follow}
        onPointerUp={() => {
          if (dragged.current?.last) onMove(i, dragged.current.last, true)
          dragged.current = null
        }}
      >
        <circle className={classes.reach} cx={x} cy={y} r={reach / 2} />
        <circle cx={x} cy={y} r={8} />
      </g>
    )
  })
}

/** The place of closed lines, x y z after one another, that is nearest to a point of the picture. */
export function nearestOn(
  loops: number[][],
  flat: (p: ArrayLike<number>, i: number) => [number, number],
  x: number,
  y: number,
): Point | null {
  let [best, least]: [Point | null, number] = [null, Infinity]
  for (const loop of loops) {
    const n = Math.floor(loop.length / 3)
    for (let i = 0; i < n; i++) {
      const [a, b] = [3 * i, 3 * ((i + 1) % n)]
      const [ax, ay] = flat(loop, a)
      const [bx, by] = flat(loop, b)
      const [dx, dy] = [bx - ax, by - ay]
      const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / Math.max(dx * dx + dy * dy, 1e-12)))
      const off = (x - ax - t * dx) ** 2 + (y - ay - t * dy) ** 2
      if (off < least) {
        least = off
        best = [0, 1, 2].map((k) => loop[a + k] + t * (loop[b + k] - loop[a + k])) as Point
      }
    }
  }
  return best
}

/** The highest place of closed lines along a way. */
export function highestOn(loops: number[][], up: readonly number[]): Point | null {
  let [best, most]: [Point | null, number] = [null, -Infinity]
  for (const loop of loops) {
    for (let i = 0; i + 2 < loop.length; i += 3) {
      const h = loop[i] * up[0] + loop[i + 1] * up[1] + loop[i + 2] * up[2]
      if (h > most) [best, most] = [[loop[i], loop[i + 1], loop[i + 2]], h]
    }
  }
  return best
}
