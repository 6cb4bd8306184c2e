import { useElementSize } from '@mantine/hooks'
import { useId, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Axis, Rise, Study } from '../api/client'
import { cross, dir, dot, span } from './axes'
import { Qty } from './Num'
import { Rail } from './Rail'
import classes from './Sounding.module.css'

export interface Cut {
  axis: Axis
  offset: number
}

/** What rises: resin in the cavity, or the rubber of one half round the part. */
export type Pour = { liquid: 'resin' } | { liquid: 'rubber'; half: 0 | 1 }

interface Props {
  study: Study
  rise: Rise
  pour: Pour
  draw: Axis
  cut: Cut
  loops: number[][] | undefined
  level: number
  setLevel: (index: number) => void
  moveCut: (steps: number) => void
  turnCut: () => void
  /** Moves the parting along the draw; settled when the hand lets go. Absent where it is not set. */
  onParting?: (height: number, settled: boolean) => void
}

/**
 * The section through the mould and the sounding rail beside it, at one
 * vertical scale, with one level line through both.
 */
export function Sounding({ study, rise, pour, draw, cut, loops, level, setLevel, moveCut, turnCut, onParting }: Props) {
  const id = useId()
  const { ref, width, height } = useElementSize()
  const upDir = dir(rise.up)
  const normal = dir(cut.axis)
  const right = cross(normal, upDir) // as seen looking along the plane's normal
  const { boxLow, boxHigh } = study.mould
  const resin = pour.liquid === 'resin'
  const [left, leftEnd] = span(boxLow, boxHigh, right)
  const wide = leftEnd - left
  const { floor, top } = rise

  const railRoom = 138
  const pad = 22
  const w = Math.max(width, 320)
  const h = Math.max(height, 240)
  const scale = Math.min((h - 2 * pad) / top, (w - railRoom - 62 - pad) / wide)
  const x = (s: number) => pad + (s - left) * scale
  const y = (z: number) => h - pad - (h - 2 * pad - top * scale) / 2 - z * scale
  const railX = Math.min(w - railRoom + 24, x(left + wide) + 64)
  const flat = (p: ArrayLike<number>, i = 0): [number, number] => [
    x(p[i] * right[0] + p[i + 1] * right[1] + p[i + 2] * right[2]),
    y(p[i] * upDir[0] + p[i + 1] * upDir[1] + p[i + 2] * upDir[2] - floor),
  ]

  const outline = (loops ?? [])
    .map((loop) => {
      const points: string[] = []
      for (let i = 0; i + 2 < loop.length; i += 3) points.push(flat(loop, i).map((v) => v.toFixed(2)).join(' '))
      return `M${points.join('L')}Z`
    })
    .join('')

  const at = rise.levels.at(level)
  const levelY = at ? y(at.height) : 0
  const bands = ['var(--resin-1)', 'var(--resin-2)', 'var(--resin-3)', 'var(--resin-4)']
  const depth = at ? at.height - rise.partLow : 0

  // Air near the plane, drawn column by column and clipped by the outline.
  const air: { x: number; y: number; h: number }[] = []
  const shutIn = new Set<number>()
  if (at) {
    rise.pockets.forEach((p, i) => {
      if (p.isolated || p.sealHeight < at.height - 1e-6) shutIn.add(i)
    })
    const s = rise.air.stretches
    for (let i = 0; i + 4 < s.length; i += 5) {
      if (Math.abs(s[i] * normal[0] + s[i + 1] * normal[1] + s[i + 2] * normal[2] - cut.offset) > rise.air.cell * 0.51) continue
      if (!shutIn.has(s[i + 4])) continue
      const [px, py] = flat(s, i)
      air.push({ x: px, y: py, h: s[i + 3] * scale })
    }
  }

  // Rubber: the halves lie apart where the parting crosses the plane.
  const partingCuts = draw[1] !== cut.axis[1]
  const drawDir = dir(draw)
  const upright = partingCuts && draw[1] !== rise.up[1]
  const boxRect = { x: x(left), y: y(top), w: wide * scale, h: top * scale }
  let halfA = boxRect
  let halfB = { ...boxRect, w: 0 }
  let partingLine = ''
  if (partingCuts && upright) {
    const s = x(study.mould.parting * dot(drawDir, right))
    const aRight = dot(drawDir, right) > 0
    const sides = [{ ...boxRect, w: s - boxRect.x }, { ...boxRect, x: s, w: boxRect.x + boxRect.w - s }]
    ;[halfB, halfA] = aRight ? sides : [sides[1], sides[0]]
    partingLine = `M${s} ${boxRect.y}v${boxRect.h}`
  } else if (partingCuts) {
    const z = y(study.mould.parting * dot(drawDir, upDir) - floor)
    const aUp = dot(drawDir, upDir) > 0
    const sides = [{ ...boxRect, h: z - boxRect.y }, { ...boxRect, y: z, h: boxRect.y + boxRect.h - z }]
    ;[halfA, halfB] = aUp ? sides : [sides[1], sides[0]]
    partingLine = `M${boxRect.x} ${z}h${boxRect.w}`
  } else if ((cut.offset - study.mould.parting * dot(drawDir, normal)) * dot(drawDir, normal) < 0) {
    ;[halfA, halfB] = [halfB, halfA]
  }
  // Of the half that is being poured only what lies below the level is there.
  const poured = resin ? null : pour.half === 0 ? halfA : halfB
  const pouredTop = poured && at ? Math.max(poured.y, levelY) : 0

  const airRects = air.map((a, i) => (
    <rect key={i} className={classes.air} shapeRendering="crispEdges" x={a.x - (rise.air.cell * scale) / 2 - 0.5} y={a.y - a.h} width={rise.air.cell * scale + 1} height={a.h} />
  ))

  function onKey(e: KeyboardEvent) {
    if (e.target !== e.currentTarget) return
    if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
      e.preventDefault()
      moveCut((e.key === 'ArrowRight' ? 1 : -1) * (e.shiftKey ? 10 : 1))
    }
    if (e.key === 't') turnCut()
  }

  return (
    <div className={classes.frame}>
      <div className={classes.caption}>
        <h2>Section across {cut.axis[1]}</h2>
        <span className="soft">
          at <Qty value={cut.offset} kind="length" />
        </span>
        <button type="button" className="quiet" onClick={() => moveCut(-1)} aria-label="Section one step back">
          ←
        </button>
        <button type="button" className="quiet" onClick={() => moveCut(1)} aria-label="Section one step on">
          →
        </button>
        <button type="button" className="quiet" onClick={turnCut}>
          turn
        </button>
        {at && (
          <output className={classes.reading}>
            <Qty value={at.height} kind="length" className={classes.large} />
            <span className="soft">
              below it <Qty value={at.volume} kind="volume" />
            </span>
            {at.airShut > 0 && (
              <span className={classes.airText}>
                ◆ air <Qty value={at.airShut} kind="volume" />
              </span>
            )}
          </output>
        )}
      </div>
      <div ref={ref} className={classes.picture} role="group" tabIndex={0} aria-label="Section; arrow keys move the plane, t turns it" onKeyDown={onKey}>
        <svg width={w} height={h} viewBox={`0 0 ${w} ${h}`} aria-hidden={false}>
          <defs>
            <pattern id={`${id}h`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V7" stroke="var(--hatch)" strokeWidth="1.4" />
            </pattern>
            <clipPath id={`${id}c`}>
              <path d={outline} clipRule="evenodd" />
            </clipPath>
            <clipPath id={`${id}l`}>
              <rect x={0} y={levelY} width={w} height={Math.max(0, h - levelY)} />
            </clipPath>
          </defs>
          {resin || pour.half === 1 ? (
            <>
              <rect className={classes.rubber} x={boxRect.x} y={boxRect.y} width={boxRect.w} height={boxRect.h} />
              <rect x={halfA.x} y={halfA.y} width={halfA.w} height={halfA.h} fill={`url(#${id}h)`} />
            </>
          ) : (
            <rect className={classes.clay} x={halfB.x} y={halfB.y} width={halfB.w} height={halfB.h} />
          )}
          {poured && poured.w > 0 && (
            <>
              <rect className={classes.open} x={poured.x} y={poured.y} width={poured.w} height={poured.h} />
              <rect className={classes.rubber} x={poured.x} y={pouredTop} width={poured.w} height={Math.max(0, poured.y + poured.h - pouredTop)} />
              {pour.liquid === 'rubber' && pour.half === 0 && <rect x={poured.x} y={pouredTop} width={poured.w} height={Math.max(0, poured.y + poured.h - pouredTop)} fill={`url(#${id}h)`} />}
              {airRects}
            </>
          )}
          <rect className={classes.box} x={boxRect.x} y={boxRect.y} width={boxRect.w} height={boxRect.h} />
          {partingLine && <path className={classes.parting} d={partingLine} />}
          <Name of="half A" at={halfA} hidden={halfA.w < 46 || halfA.h < 16} />
          <Name of={!resin && pour.half === 0 ? 'clay, later half B' : 'half B'} at={halfB} hidden={halfB.w < 46 || halfB.h < 16} />
          {resin && study.gates.channels.map((c, i) => (
            <ChannelPath key={i} channel={c} flat={flat} scale={scale} filledTo={at ? `url(#${id}l)` : undefined} near={Math.abs(dot(c.path[0], normal) - cut.offset) < Math.max(c.bore, 4)} />
          ))}
          <path d={outline} className={resin && at ? classes.cavity : classes.part} fillRule="evenodd" />
          {resin && at && (
            <g clipPath={`url(#${id}c)`}>
              {bands.map((tint, i) => {
                const from = rise.partLow + (depth * (3 - i)) / 4
                const to = rise.partLow + (depth * (4 - i)) / 4
                return <rect key={tint} x={boxRect.x} y={y(to)} width={boxRect.w} height={Math.max(0, y(from) - y(to))} fill={tint} />
              })}
              {airRects}
            </g>
          )}
          <path d={outline} className={classes.outline} />
          {at && <path className={classes.level} d={`M${boxRect.x - 6} ${levelY}H${railX + 30}`} />}
          {partingLine && onParting && (
            <PartingGrip at={upright ? { x: x(study.mould.parting * dot(drawDir, right)) - 9, y: boxRect.y, w: 18, h: boxRect.h } : { x: boxRect.x, y: y(study.mould.parting * dot(drawDir, upDir) - floor) - 9, w: boxRect.w, h: 18 }} upright={upright} value={study.mould.parting} reach={span(boxLow, boxHigh, drawDir)} onMove={onParting}
              heightOf={(px, py) => (upright ? ((px - pad) / scale + left) * dot(drawDir, right) : ((h - pad - (h - 2 * pad - top * scale) / 2 - py) / scale + floor) * dot(drawDir, upDir))} />
          )}
          <Rail x={railX} y={y} top={top} marks={rise.marks} levels={rise.levels} level={level} setLevel={setLevel} />
        </svg>
      </div>
    </div>
  )
}

interface GripProps {
  at: { x: number; y: number; w: number; h: number }
  upright: boolean
  value: number
  reach: [number, number]
  heightOf: (x: number, y: number) => number
  onMove: (height: number, settled: boolean) => void
}

/** A broad, unseen band on the parting by which it is dragged, or moved by the arrow keys. */
function PartingGrip({ at, upright, value, reach, heightOf, onMove }: GripProps) {
  const last = useRef<number | null>(null)
  const moved = useRef(false)
  const inside = (v: number) => Math.min(reach[1] - 1, Math.max(reach[0] + 1, Math.round(v * 10) / 10))
  function follow(e: PointerEvent<SVGRectElement>) {
    const matrix = e.currentTarget.ownerSVGElement?.getScreenCTM()
    if (!matrix) return
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix.inverse())
    last.current = inside(heightOf(p.x, p.y))
    moved.current = true
    onMove(last.current, false)
  }
  return (
    <rect x={at.x} y={at.y} width={at.w} height={at.h} role="slider" tabIndex={0} aria-label="Parting" aria-orientation={upright ? 'horizontal' : 'vertical'} aria-valuemin={reach[0]} aria-valuemax={reach[1]} aria-valuenow={value}
      className={upright ? classes.gripAcross : classes.gripAlong}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        last.current = value
      }}
      onPointerMove={(e) => last.current !== null && follow(e)}
      onPointerUp={() => {
        if (moved.current && last.current !== null) onMove(last.current, true)
        last.current = null
        moved.current = false
      }}
      onKeyDown={(e) => {
        const step = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[e.key]
        if (!step) return
        e.preventDefault()
        e.stopPropagation()
        onMove(inside(value + step * (e.shiftKey ? 5 : 0.5)), true)
      }} />
  )
}

function Name({ of, at, hidden }: { of: string; at: { x: number; y: number; h: number }; hidden: boolean }) {
  if (hidden) return null
  return (
    <text className={classes.half} x={at.x + 6} y={at.y + at.h - 6}>
      {of}
    </text>
  )
}

interface ChannelProps {
  channel: Study['gates']['channels'][number]
  flat: (p: ArrayLike<number>) => [number, number]
  scale: number
  /** Clip below the level, when there is liquid. */
  filledTo: string | undefined
  near: boolean
}

/** A channel as it projects onto the plane: filled below the level, dashed when it lies elsewhere. */
function ChannelPath({ channel, flat, scale, filledTo, near }: ChannelProps) {
  const points = channel.path.map((p) => flat(p))
  const line = 'M' + points.map((p) => p.join(' ')).join('L')
  if (channel.kind === 'well') {
    const [x0, y0] = points[0]
    const y1 = points[1][1]
    const r = (channel.bore / 2) * scale
    const rim = (channel.rim / 2) * scale
    return <path className={near ? classes.channel : classes.channelFar} d={`M${x0 - r} ${y0}L${x0 - rim} ${y1}H${x0 + rim}L${x0 + r} ${y0}Z`} fill={filledTo ? 'var(--sheet)' : 'var(--rubber-b)'} />
  }
  const bore = Math.max(channel.bore * scale, 1.6)
  return (
    <g>
      <path d={line} fill="none" stroke="var(--ink)" strokeWidth={bore + 1.6} opacity={near ? 1 : 0.35} strokeLinejoin="round" />
      <path d={line} fill="none" stroke="var(--sheet)" strokeWidth={bore} strokeLinejoin="round" />
      {filledTo && <path d={line} fill="none" stroke="var(--resin-2)" strokeWidth={bore} strokeLinejoin="round" clipPath={filledTo} />}
    </g>
  )
}
