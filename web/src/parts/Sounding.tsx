import { useElementSize } from '@mantine/hooks'
import { useId, useMemo, type KeyboardEvent } from 'react'
import type { Axis, Study } from '../api/client'
import { cross, dir, dot, span } from './axes'
import { Qty } from './Num'
import { Rail } from './Rail'
import classes from './Sounding.module.css'

export interface Cut {
  axis: Axis
  offset: number
}

interface Props {
  study: Study
  up: Axis
  draw: Axis
  cut: Cut
  loops: number[][] | undefined
  level: number
  setLevel: (index: number) => void
  moveCut: (steps: number) => void
  turnCut: () => void
  /** Liquid is drawn up to the level. */
  filled: boolean
}

/**
 * The section through the mould and the sounding rail beside it, at one
 * vertical scale, with one level line through both.
 */
export function Sounding({ study, up, draw, cut, loops, level, setLevel, moveCut, turnCut, filled }: Props) {
  const id = useId()
  const { ref, width, height } = useElementSize()
  const upDir = dir(up)
  const normal = dir(cut.axis)
  const right = cross(normal, upDir) // as seen looking along the plane's normal
  const { boxLow, boxHigh } = study.mould
  const gates = study.gates
  const [left, wide] = useMemo(() => {
    const [a, b] = span(boxLow, boxHigh, right)
    return [a, b - a]
  }, [boxLow, boxHigh, right])
  const [floor] = span(boxLow, boxHigh, upDir)
  const top = gates.top

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

  const at = gates.levels[level]
  const levelY = at ? y(at.height) : 0
  const bands = ['var(--resin-1)', 'var(--resin-2)', 'var(--resin-3)', 'var(--resin-4)']
  const depth = at ? at.height - gates.partLow : 0

  // Air near the plane, drawn column by column and clipped by the outline.
  const air: { x: number; y: number; h: number }[] = []
  const shutIn = new Set<number>()
  if (at && filled) {
    gates.pockets.forEach((p, i) => {
      if (p.isolated || p.sealHeight < at.height - 1e-6) shutIn.add(i)
    })
    const s = gates.air.stretches
    for (let i = 0; i + 4 < s.length; i += 5) {
      if (Math.abs(s[i] * normal[0] + s[i + 1] * normal[1] + s[i + 2] * normal[2] - cut.offset) > gates.air.cell * 0.51) continue
      if (!shutIn.has(s[i + 4])) continue
      const [px, py] = flat(s, i)
      air.push({ x: px, y: py, h: s[i + 3] * scale })
    }
  }

  // Rubber: the halves lie apart where the parting crosses the plane.
  const partingCuts = draw[1] !== cut.axis[1]
  const drawDir = dir(draw)
  const upright = partingCuts && draw[1] !== up[1]
  const boxRect = { x: x(left), y: y(top), w: wide * scale, h: top * scale }
  let halfA = boxRect
  let partingLine = ''
  if (partingCuts && upright) {
    const s = x(study.mould.parting * dot(drawDir, right))
    const aRight = dot(drawDir, right) > 0
    halfA = aRight ? { ...boxRect, x: s, w: boxRect.x + boxRect.w - s } : { ...boxRect, w: s - boxRect.x }
    partingLine = `M${s} ${boxRect.y}v${boxRect.h}`
  } else if (partingCuts) {
    const z = y(study.mould.parting * dot(drawDir, upDir) - floor)
    const aUp = dot(drawDir, upDir) > 0
    halfA = aUp ? { ...boxRect, h: z - boxRect.y } : { ...boxRect, y: z, h: boxRect.y + boxRect.h - z }
    partingLine = `M${boxRect.x} ${z}h${boxRect.w}`
  } else if ((cut.offset - study.mould.parting * dot(drawDir, normal)) * dot(drawDir, normal) < 0) {
    halfA = { ...boxRect, w: 0 }
  }

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
        {at && filled && (
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
          <rect className={classes.rubber} x={boxRect.x} y={boxRect.y} width={boxRect.w} height={boxRect.h} />
          {halfA.w > 0 && <rect x={halfA.x} y={halfA.y} width={halfA.w} height={halfA.h} fill={`url(#${id}h)`} />}
          <rect className={classes.box} x={boxRect.x} y={boxRect.y} width={boxRect.w} height={boxRect.h} />
          {partingLine && <path className={classes.parting} d={partingLine} />}
          <text className={classes.half} x={halfA.x + 6} y={halfA.y + halfA.h - 6} visibility={halfA.w > 40 ? 'visible' : 'hidden'}>
            half A
          </text>
          {gates.channels.map((c, i) => (
            <ChannelPath key={i} channel={c} flat={flat} scale={scale} filledTo={filled && at ? `url(#${id}l)` : undefined} near={Math.abs(dot(c.path[0], normal) - cut.offset) < Math.max(c.bore, 4)} />
          ))}
          <path d={outline} className={filled ? classes.cavity : classes.part} fillRule="evenodd" />
          {filled && at && (
            <g clipPath={`url(#${id}c)`}>
              {bands.map((tint, i) => {
                const from = gates.partLow + (depth * (3 - i)) / 4
                const to = gates.partLow + (depth * (4 - i)) / 4
                return <rect key={tint} x={boxRect.x} y={y(to)} width={boxRect.w} height={Math.max(0, y(from) - y(to))} fill={tint} />
              })}
              {air.map((a, i) => (
                <rect key={i} className={classes.air} x={a.x - (gates.air.cell * scale) / 2 - 0.2} y={a.y - a.h} width={gates.air.cell * scale + 0.4} height={a.h} />
              ))}
            </g>
          )}
          <path d={outline} className={classes.outline} />
          {filled && at && <path className={classes.level} d={`M${boxRect.x - 6} ${levelY}H${railX + 30}`} />}
          <Rail x={railX} y={y} top={top} marks={gates.marks} levels={filled ? gates.levels : []} level={level} setLevel={setLevel} />
        </svg>
      </div>
    </div>
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
