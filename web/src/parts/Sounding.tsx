import { useElementSize } from '@mantine/hooks'
import { useId, useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Axis, Rise, Section, Study } from '../api/client'
import { carried, cross, dir, dot, span } from './axes'
import { Qty } from './Num'
import { Rail } from './Rail'
import { reach } from './reach'
import { Feet, highestOn, nearestOn, type ChannelHands } from './Feet'
import classes from './Sounding.module.css'

export interface Cut {
  axis: Axis
  offset: number
}

/** What rises: resin in the cavity, or the rubber of one pour round the part. */
export type Pour = { liquid: 'resin' } | { liquid: 'rubber'; name: string }

interface Props {
  study: Study
  rise: Rise
  pour: Pour
  draw: Axis
  /** Where the parting stands along the draw, mm; under a hand, before all that follows from it is known. */
  parting: number
  cut: Cut
  section: Section | undefined
  level: number
  setLevel: (index: number) => void
  moveCut: (steps: number) => void
  turnCut: () => void
  /** Moves the parting along the draw; settled when the hand lets go. Absent where it is not set. */
  onParting?: (height: number, settled: boolean) => void
  /** Leads the channels, where they are laid out. */
  hands?: ChannelHands
}

/**
 * The section through the mould and the sounding rail beside it, at one
 * vertical scale, with one level line through both.
 */
export function Sounding({ study, rise, pour, draw, parting, cut, section, level, setLevel, moveCut, turnCut, onParting, hands }: Props) {
  const id = useId()
  const { ref, width, height } = useElementSize()
  const upDir = dir(rise.up)
  const normal = dir(cut.axis)
  const right = cross(normal, upDir) // as seen looking along the plane's normal
  const plan = study.mould
  const { low: boxLow, high: boxHigh } = plan.box
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

  const { outline, block, pieces } = useMemo(() => {
    const path = (loops: number[][] | undefined) => (loops ?? []).map((loop) => loopPath(loop, flat)).join('')
    return {
      outline: path(section?.loops),
      block: path(section?.block),
      pieces: (section?.pieces ?? []).map(({ name, tone, loops }) => ({ name, tone, d: path(loops) })),
    }
  }, [section, scale, left, h, top, floor, rise.up, cut.axis]) // eslint-disable-line react-hooks/exhaustive-deps -- all that flat goes by

  const reached = rise.heights.at(level)
  const at = reached === undefined ? undefined : { height: reached, volume: rise.volumes?.[level], airShut: rise.shut[level] ?? 0 }
  const levelY = at ? y(at.height) : 0
  const bands = ['var(--resin-1)', 'var(--resin-2)', 'var(--resin-3)', 'var(--resin-4)']
  const depth = at ? at.height - rise.partLow : 0

  // Air near the plane, drawn column by column and clipped by the outline.
  const air: { x: number; y: number; h: number }[] = []
  if (at) {
    const s = rise.air.stretches
    for (const [n, place] of plan.places.entries()) {
      const level = at.height - (rise.lifts?.[n] ?? 0) // as the first cavity stands
      const shutIn = new Set<number>()
      rise.pockets.forEach((p, i) => {
        if (p.isolated || p.sealHeight < level - 1e-6) shutIn.add(i)
      })
      for (let i = 0; i + 4 < s.length; i += 5) {
        if (!shutIn.has(s[i + 4])) continue
        const foot = carried(place, s.slice(i, i + 3))
        if (Math.abs(dot(foot, normal) - cut.offset) > rise.air.cell * 0.51) continue
        const [px, py] = flat(foot)
        air.push({ x: px, y: py, h: s[i + 3] * scale })
      }
    }
  }

  // The parting, where it crosses the plane, and which side of it is half A's.
  const drawDir = dir(draw)
  const partingCuts = plan.parted && draw[1] !== cut.axis[1]
  const upright = partingCuts && draw[1] !== rise.up[1]
  const boxRect = { x: x(left), y: y(top), w: wide * scale, h: top * scale }
  const sides = halves(
    boxRect,
    partingCuts,
    upright,
    parting,
    drawDir,
    right,
    upDir,
    x,
    (z) => y(z - floor),
    (cut.offset - parting * dot(drawDir, normal)) * dot(drawDir, normal) >= 0,
  )
  const partingLine = partingCuts && (upright ? `M${sides.line} ${boxRect.y}v${boxRect.h}` : `M${boxRect.x} ${sides.line}h${boxRect.w}`)
  const whole = !plan.halves || !plan.parted // poured in one go
  const pouredName = resin ? null : pour.name
  const isA = pouredName === 'Half A'

  // What resin reaches only over a sill stays dry until the level stands there.
  const dryRects: { x: number; y: number; h: number }[] = []
  if (at && resin) {
    const s = rise.dry.stretches
    for (const [n, place] of plan.places.entries()) {
      const reached = at.height - (rise.lifts?.[n] ?? 0)
      for (let i = 0; i + 4 < s.length; i += 5) {
        if (reached >= s[i + 4]) continue
        const foot = carried(place, s.slice(i, i + 3))
        if (Math.abs(dot(foot, normal) - cut.offset) > rise.dry.cell * 0.51) continue
        const [px, py] = flat(foot)
        dryRects.push({ x: px, y: py, h: s[i + 3] * scale })
      }
    }
  }
  const dryWide = rise.dry.cell * scale

  const airRects = air.map((a, i) => (
    <rect
      key={i}
      fill={`url(#${id}a)`}
      shapeRendering="crispEdges"
      x={a.x - (rise.air.cell * scale) / 2 - 0.5}
      y={a.y - a.h}
      width={rise.air.cell * scale + 1}
      height={a.h}
    />
  ))

  function onKey(e: KeyboardEvent) {
    if (e.target !== e.currentTarget) return
    if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
      e.preventDefault()
      moveCut((e.key === 'ArrowRight' ? 1 : -1) * (e.shiftKey ? 10 : 1))
    }
    if (e.key === 't') turnCut()
    if (e.key === 'v' && hands) {
      const at = highestOn(section?.loops ?? [], upDir)
      if (at) hands.onAdd(at)
    }
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
              {at.volume === undefined ? (
                'over the floor'
              ) : (
                <>
                  below it <Qty value={at.volume} kind="volume" />
                </>
              )}
            </span>
            {at.airShut > 0 && (
              <span className={classes.airText}>
                ◆ air <Qty value={at.airShut} kind="volume" />
              </span>
            )}
          </output>
        )}
      </div>
      <div
        ref={ref}
        className={classes.picture}
        role="group"
        tabIndex={0}
        aria-label={`Section; arrow keys move the plane, t turns it${hands ? ', v puts a vent at its highest place' : ''}`}
        onKeyDown={onKey}
      >
        <svg width={w} height={h} viewBox={`0 0 ${w} ${h}`} aria-hidden={false}>
          <defs>
            <pattern id={`${id}h`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V7" stroke="var(--hatch)" strokeWidth="1.4" />
            </pattern>
            <pattern id={`${id}x`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
              <path d="M0 0V7" stroke="var(--hatch)" strokeWidth="1.4" />
            </pattern>
            <pattern id={`${id}a`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="6" height="6" fill="var(--air)" />
              <path d="M0 0V6" stroke="var(--sheet)" strokeWidth="1.2" />
            </pattern>
            <clipPath id={`${id}b`}>
              <path d={block} />
            </clipPath>
            <clipPath id={`${id}c`}>
              <path d={outline} clipRule="evenodd" />
            </clipPath>
            <clipPath id={`${id}l`}>
              <rect x={0} y={levelY} width={w} height={Math.max(0, h - levelY)} />
            </clipPath>
          </defs>
          <g clipPath={`url(#${id}b)`}>
            {resin ? (
              <>
                {pieces.length === 0 && <path d={block} className={classes.rubber} />}
                {pieces.map((p) => (
                  <Rubber key={p.name} d={p.d} tone={p.tone} hatch={`url(#${id}h)`} cross={`url(#${id}x)`} />
                ))}
              </>
            ) : (
              <>
                <path d={block} className={classes.open} />
                {!whole && !isA && pouredName === 'Half B' && (
                  <Rubber
                    d={pieces.length > 0 ? (pieces.find((p) => p.name === 'Half A')?.d ?? '') : sides.a}
                    tone="rubber-a"
                    hatch={`url(#${id}h)`}
                    cross=""
                  />
                )}
                {!whole && isA && (
                  <path d={pieces.length > 0 ? pieces.find((p) => p.name === 'Half B')?.d : sides.b} className={classes.clay} />
                )}
                <g clipPath={at ? `url(#${id}l)` : undefined}>
                  {poured(pouredName!, pieces, whole, sides, block).map((p) => (
                    <Rubber key={p.d} d={p.d} tone={p.tone} hatch={`url(#${id}h)`} cross={`url(#${id}x)`} />
                  ))}
                </g>
                {airRects}
              </>
            )}
          </g>
          <path className={classes.box} d={block} />
          {partingLine && <path className={classes.parting} d={partingLine} />}
          {partingCuts && <Name of="half A" at={sides.rectA} hidden={sides.rectA.w < 46 || sides.rectA.h < 16} />}
          {partingCuts && (
            <Name
              of={!resin && isA && !whole ? 'bed, later half B' : 'half B'}
              at={sides.rectB}
              hidden={sides.rectB.w < 46 || sides.rectB.h < 16}
            />
          )}
          {resin &&
            study.gates.channels
              .filter((c) => !(c.kind === 'blind' && c.cavity >= 0)) // the pieces show where it cuts them
              .map((c, i) => (
                <ChannelPath
                  key={i}
                  channel={c}
                  flat={flat}
                  scale={scale}
                  filledTo={at ? `url(#${id}l)` : undefined}
                  near={c.path.map((p) => Math.abs(dot(p, normal) - cut.offset) < Math.max(c.bore, 4))}
                />
              ))}
          <path d={outline} className={resin && at ? classes.cavity : plan.known ? classes.part : classes.unknown} fillRule="evenodd" />
          {resin && at && (
            <g clipPath={`url(#${id}c)`}>
              {bands.map((tint, i) => {
                const from = rise.partLow + (depth * (3 - i)) / 4
                const to = rise.partLow + (depth * (4 - i)) / 4
                return <rect key={tint} x={boxRect.x} y={y(to)} width={boxRect.w} height={Math.max(0, y(from) - y(to))} fill={tint} />
              })}
              {dryRects.map((d, i) => (
                <rect key={i} className={classes.cavity} x={d.x - dryWide / 2 - 0.5} y={d.y - d.h} width={dryWide + 1} height={d.h} />
              ))}
              {airRects}
            </g>
          )}
          <path d={outline} className={classes.outline} />
          {at && <path className={classes.levelEdge} d={`M${boxRect.x - 6} ${levelY}H${railX + 30}`} />}
          {at && <path className={classes.level} d={`M${boxRect.x - 6} ${levelY}H${railX + 30}`} />}
          {partingLine && onParting && (
            <PartingGrip
              at={
                upright
                  ? { x: sides.line - reach / 2, y: boxRect.y, w: reach, h: boxRect.h }
                  : { x: boxRect.x, y: sides.line - reach / 2, w: boxRect.w, h: reach }
              }
              upright={upright}
              value={parting}
              reach={span(boxLow, boxHigh, drawDir)}
              onMove={onParting}
              heightOf={(px, py) =>
                upright
                  ? ((px - pad) / scale + left) * dot(drawDir, right)
                  : ((h - pad - (h - 2 * pad - top * scale) / 2 - py) / scale + floor) * dot(drawDir, upDir)
              }
            />
          )}
          {hands && (
            <Feet
              feet={hands.feet}
              right={right}
              near={(at, within) => Math.abs(dot(at, normal) - cut.offset) < within}
              flat={flat}
              onSurface={(px, py) => nearestOn(section?.loops ?? [], flat, px, py)}
              scale={scale}
            />
          )}
          <Rail
            x={railX}
            y={y}
            top={top}
            marks={rise.marks}
            heights={rise.heights}
            volumes={rise.volumes}
            level={level}
            setLevel={setLevel}
          />
        </svg>
      </div>
    </div>
  )
}

/** A piece of rubber as it is cut by the plane. */
interface PiecePath {
  name: string
  tone: Section['pieces'][number]['tone']
  d: string
}

/** A closed line of the section, as SVG draws it. */
function loopPath(loop: number[], flat: (p: ArrayLike<number>, i: number) => [number, number]): string {
  const points: string[] = []
  for (let i = 0; i + 2 < loop.length; i += 3) {
    const [x, y] = flat(loop, i)
    points.push(`${x.toFixed(2)} ${y.toFixed(2)}`)
  }
  return `M${points.join('L')}Z`
}

interface Rect {
  x: number
  y: number
  w: number
  h: number
}

const box = (r: Rect) => `M${r.x} ${r.y}h${r.w}v${r.h}h${-r.w}Z`

/** The box divided at the level of the parting: what stands there before the rubber is divided for good. */
function halves(
  all: Rect,
  cuts: boolean,
  upright: boolean,
  parting: number,
  draw: readonly number[],
  right: readonly number[],
  up: readonly number[],
  x: (s: number) => number,
  y: (z: number) => number,
  onA: boolean,
) {
  const none = { ...all, w: 0 }
  let [rectA, rectB, line] = [onA ? all : none, onA ? none : all, 0]
  if (cuts && upright) {
    line = x(parting * dot(draw, right))
    const two = [
      { ...all, w: line - all.x },
      { ...all, x: line, w: all.x + all.w - line },
    ]
    ;[rectB, rectA] = dot(draw, right) > 0 ? two : [two[1], two[0]]
  } else if (cuts) {
    line = y(parting * dot(draw, up))
    const two = [
      { ...all, h: line - all.y },
      { ...all, y: line, h: all.y + all.h - line },
    ]
    ;[rectA, rectB] = dot(draw, up) > 0 ? two : [two[1], two[0]]
  }
  return { rectA, rectB, line, a: box(rectA), b: box(rectB) }
}

/** What a pour fills, in the section: its pieces, or its side of the parting while they are not known. */
function poured(
  name: string,
  pieces: PiecePath[],
  whole: boolean,
  sides: { a: string; b: string },
  block: string,
): Omit<PiecePath, 'name'>[] {
  if (name === 'Half A' || name === 'Half B') {
    const own = pieces.find((p) => p.name === name)
    const tone = name === 'Half A' ? 'rubber-a' : 'rubber-b'
    return [{ d: own ? own.d : name === 'Half A' ? sides.a : sides.b, tone }]
  }
  if (name === 'Skin') return pieces
  if (whole) return [{ d: block, tone: 'rubber-b' }]
  return pieces.filter((p) => p.tone === 'side')
}

/** A piece of rubber as it is cut: halves and side pieces differ by their hatching. */
function Rubber({ d, tone, hatch, cross }: { d: string; tone: Section['pieces'][number]['tone']; hatch: string; cross: string }) {
  return (
    <>
      <path d={d} className={classes.rubber} fillRule="evenodd" />
      {tone === 'rubber-a' && <path d={d} fill={hatch} fillRule="evenodd" />}
      {tone === 'side' && <path d={d} fill={cross} fillRule="evenodd" />}
      <path d={d} className={classes.edge} />
    </>
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
    <rect
      x={at.x}
      y={at.y}
      width={at.w}
      height={at.h}
      role="slider"
      tabIndex={0}
      aria-label="Parting"
      aria-orientation={upright ? 'horizontal' : 'vertical'}
      aria-valuemin={reach[0]}
      aria-valuemax={reach[1]}
      aria-valuenow={value}
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
      }}
    />
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
  /** Whether each place of its path lies by the plane. */
  near: boolean[]
}

/** A channel as it projects onto the plane: filled below the level, a thin dashed line where it lies before or behind it. */
function ChannelPath({ channel, flat, scale, filledTo, near }: ChannelProps) {
  const points = channel.path.map((p) => flat(p))
  if (channel.rim > 0) {
    const [x0, y0] = points[0]
    const [x1, y1] = points[1]
    const r = (channel.bore / 2) * scale
    const rim = (channel.rim / 2) * scale
    const cone = `M${x0 - r} ${y0}L${x1 - rim} ${y1}H${x1 + rim}L${x0 + r} ${y0}Z`
    return (
      <g>
        <path
          className={near.every(Boolean) ? classes.channel : classes.channelFar}
          d={cone}
          fill={filledTo ? 'var(--sheet)' : 'var(--rubber-b)'}
        />
        {filledTo && near.every(Boolean) && <path d={cone} fill="var(--resin-2)" clipPath={filledTo} />}
      </g>
    )
  }
  const bore = Math.max(channel.bore * scale, 1.6)
  const by = near.slice(1).map((there, i) => there && near[i]) // run by run
  const runs = (there: boolean) =>
    by.flatMap((b, i) => (b === there ? [`M${points[i].join(' ')}L${points[i + 1].join(' ')}`] : [])).join('')
  const line = by.every(Boolean) ? 'M' + points.map((p) => p.join(' ')).join('L') : runs(true)
  return (
    <g>
      <path d={runs(false)} className={classes.channelAside} />
      <path d={line} fill="none" stroke="var(--ink)" strokeWidth={bore + 1.6} strokeLinejoin="round" />
      <path d={line} fill="none" stroke="var(--sheet)" strokeWidth={bore} strokeLinejoin="round" />
      {filledTo && <path d={line} fill="none" stroke="var(--resin-2)" strokeWidth={bore} strokeLinejoin="round" clipPath={filledTo} />}
    </g>
  )
}
