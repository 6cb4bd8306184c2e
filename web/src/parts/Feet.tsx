import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { reach } from './reach'
import classes from './Sounding.module.css'

type Point = [number, number, number]

/** A place of a channel that a hand leads in the section. */
export interface Foot {
  name: string
  /** In the box. */
  at: readonly number[]
  bore: number
  /** It goes straight across the section; else along the surface of the part. */
  slides?: boolean
  onMove: (at: Point, settled: boolean) => void
  onRemove?: () => void
}

/** What a hand does to the channels in the section. */
export interface ChannelHands {
  feet: readonly Foot[]
  onAdd: (at: Point) => void
}

interface Props {
  feet: readonly Foot[]
  /** Whether a place lies so near the plane that it is drawn in it. */
  near: (at: readonly number[], within: number) => boolean
  /** Where a place stands in the picture. */
  flat: (at: readonly number[]) => [number, number]
  /** The place of the surface in the plane that is nearest to one of the picture; null where the plane meets nothing. */
  onSurface: (x: number, y: number) => Point | null
  /** The way to the right of the picture. */
  right: readonly number[]
  /** Picture units a mm. */
  scale: number
}

/** The feet of the channels that stand in the section: dragged along the surface, or led by keys. */
export function Feet({ feet, near, flat, onSurface, right, scale }: Props) {
  const dragged = useRef<Point | null>(null)

  const led = (foot: Foot, x: number, y: number): Point | null => {
    if (!foot.slides) return onSurface(x, y)
    const by = (x - flat(foot.at)[0]) / scale
    return foot.at.map((v, k) => v + by * right[k]) as Point
  }

  function follow(e: PointerEvent<SVGGElement>, foot: Foot) {
    const matrix = e.currentTarget.ownerSVGElement?.getScreenCTM()
    if (!matrix || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse())
    const at = led(foot, p.x, p.y)
    if (!at) return
    dragged.current = at
    foot.onMove(at, false)
  }

  function onKey(e: KeyboardEvent, foot: Foot) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
    if (foot.onRemove && (e.key === 'Delete' || e.key === 'Backspace')) foot.onRemove()
    else if (way) {
      const [x, y] = flat(foot.at)
      const far = (e.shiftKey ? 5 : 0.5) * scale
      const at = led(foot, x + way[0] * far, y + way[1] * far)
      if (at) foot.onMove(at, true)
    } else return
    e.preventDefault()
    e.stopPropagation()
  }

  return feet.map((foot) => {
    if (!near(foot.at, Math.max(foot.bore, 4))) return null
    const [x, y] = flat(foot.at)
    return (
      <g
        key={foot.name}
        className={classes.foot}
        role="button"
        tabIndex={0}
        aria-label={`${foot.name}; arrow keys lead it ${foot.slides ? 'across' : 'along the surface'}${foot.onRemove ? ', Delete takes it away' : ''}`}
        onKeyDown={(e) => onKey(e, foot)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId)
          dragged.current = null
        }}
        onPointerMove={(e) => follow(e, foot)}
        onPointerUp={() => {
          if (dragged.current) foot.onMove(dragged.current, true)
          dragged.current = null
        }}
      >
        <circle className={classes.reach} cx={x} cy={y} r={reach / 2} />
        {foot.slides ? <rect x={x - 7} y={y - 7} width={14} height={14} /> : <circle cx={x} cy={y} r={8} />}
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
