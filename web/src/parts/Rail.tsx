import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Rise } from '../api/client'
import classes from './Sounding.module.css'
import { show } from './units'
import { useSystem } from './useShop'

interface Props {
  x: number
  /** Height over the mould floor to picture y. */
  y: (height: number) => number
  top: number
  marks: Rise['marks']
  heights: number[]
  /** mL below each height; absent while it is not known. */
  volumes?: number[]
  level: number
  setLevel: (index: number) => void
}

/** Even steps for soundings: about eight to the rail. */
function stepFor(top: number): number {
  const raw = top / 8
  const power = 10 ** Math.floor(Math.log10(raw))
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw) ?? raw
}

/** Places labels so that none covers another; order is kept. */
export function spread(wanted: number[], gap: number): number[] {
  const at = wanted.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y)
  for (let k = 1; k < at.length; k++) at[k].y = Math.max(at[k].y, at[k - 1].y + gap)
  const out: number[] = []
  for (const { y, i } of at) out[i] = y
  return out
}

/**
 * The sounding rail: heights over the mould floor at the section's own scale,
 * how much stands below each, what lies at which height, and the level.
 */
export function Rail({ x, y, top, marks, heights, volumes, level, setLevel }: Props) {
  const system = useSystem()
  const dragging = useRef(false)
  const step = stepFor(top)
  const ticks = Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step)
  const most = volumes?.at(-1) ?? 0
  const curveWidth = 44
  const at = heights[level] as number | undefined
  const labels = spread(
    marks.map((m) => y(m.height)),
    15,
  )

  function toLevel(e: PointerEvent<SVGGElement>) {
    const svg = e.currentTarget.ownerSVGElement
    const matrix = svg?.getScreenCTM()
    if (!svg || !matrix || heights.length < 2) return
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse())
    const fraction = (y(0) - p.y) / (y(0) - y(top))
    setLevel(Math.round(Math.min(1, Math.max(0, fraction)) * (heights.length - 1)))
  }

  function onKey(e: KeyboardEvent) {
    const move = {
      ArrowUp: 1,
      ArrowRight: 1,
      ArrowDown: -1,
      ArrowLeft: -1,
      PageUp: 10,
      PageDown: -10,
      Home: -heights.length,
      End: heights.length,
    }[e.key]
    if (move === undefined) return
    e.preventDefault()
    setLevel(Math.min(heights.length - 1, Math.max(0, level + move)))
  }

  return (
    <g>
      <path className={classes.rail} d={`M${x} ${y(top)}V${y(0)}`} />
      {volumes && most > 0 && (
        <path
          className={classes.curve}
          d={'M' + volumes.map((v, i) => `${(x - (v / most) * curveWidth).toFixed(1)} ${y(heights[i]).toFixed(1)}`).join('L')}
        />
      )}
      {marks.map((m, i) => (
        <g key={`${m.kind}${m.index}`} className={m.kind === 'air' ? classes.airMark : classes.mark}>
          {m.kind === 'air' ? (
            <path d={`M${x} ${y(m.height)}l-6 -5 -6 5 6 5z`} />
          ) : (
            <path className={classes.tick} d={`M${x - 7} ${y(m.height)}h7`} />
          )}
          <path className={classes.lead} d={`M${x} ${y(m.height)}L${x + 44} ${labels[i]}h4`} />
          <text x={x + 50} y={labels[i] + 4}>
            {m.label}
          </text>
        </g>
      ))}
      {ticks.map((t) => (
        <g key={t}>
          <path className={classes.tick} d={`M${x} ${y(t)}h9`} />
          <text className={classes.sounding} x={x + 12} y={y(t) + 4}>
            {show(t, 'length', system).text}
          </text>
        </g>
      ))}
      {at !== undefined && (
        <g
          role="slider"
          tabIndex={0}
          aria-label="Level"
          aria-orientation="vertical"
          aria-valuemin={0}
          aria-valuemax={Math.round(top * 10) / 10}
          aria-valuenow={Math.round(at * 10) / 10}
          aria-valuetext={`${show(at, 'length', system).text} ${show(at, 'length', system).unit} over the mould floor`}
          className={classes.handle}
          onKeyDown={onKey}
          onPointerDown={(e) => {
            dragging.current = true
            e.currentTarget.setPointerCapture(e.pointerId)
            toLevel(e)
          }}
          onPointerMove={(e) => dragging.current && toLevel(e)}
          onPointerUp={() => (dragging.current = false)}
        >
          <rect className={classes.grip} x={x - 34} y={y(at) - 22} width={90} height={44} />
          <rect className={classes.knob} x={x - 12} y={y(at) - 8} width={24} height={16} rx={2} />
          <path className={classes.knobLines} d={`M${x - 6} ${y(at) - 2}h12m-12 4h12`} />
        </g>
      )}
    </g>
  )
}
