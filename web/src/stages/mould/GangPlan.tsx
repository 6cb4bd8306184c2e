import { Button } from '@mantine/core'
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Gang } from '../../api/client'
import classes from './mould.module.css'

interface Props {
  gang: Gang
  /** The cavities as they lie on the page overlap: let go, and they go back. */
  refused: boolean
  onMove: (poses: number[][]) => void
}

const snap = 2 // mm, to another cavity's line

/** A closed line, x and y after one another, with y upwards. */
const closed = (line: number[]) =>
  `M${Array.from({ length: line.length / 2 }, (_, i) => `${line[2 * i].toFixed(2)} ${(-line[2 * i + 1]).toFixed(2)}`).join('L')}Z`

/** The gang seen along the draw. Cavities are dragged, turned and locked; those that overlap go back. */
export function GangPlan({ gang, refused, onMove }: Props) {
  const [poses, setPoses] = useState(gang.poses)
  const [held, setHeld] = useState<number | null>(null)
  const [locked, setLocked] = useState<number[]>([])
  const plan = useRef<SVGGElement>(null)
  const drag = useRef<{ from: [number, number]; pose: number[]; before: number[][] } | null>(null)
  const good = useRef(gang.poses)
  useEffect(() => {
    if (!refused) {
      good.current = gang.poses
      if (!drag.current) setPoses(gang.poses)
    }
  }, [gang.poses, refused])
  useEffect(() => {
    if (refused && !drag.current) setPoses(good.current) // as it lay before
  }, [refused])

  const [blockWide, blockDeep] = [gang.high[0] - gang.low[0], gang.high[1] - gang.low[1]]
  const standing = blockDeep > 1.2 * blockWide && gang.diameter === 0 // drawn lying, so that it fills the panel
  const middle = gang.diameter > 0 ? [0, 0] : [(gang.low[0] + gang.high[0]) / 2, -(gang.low[1] + gang.high[1]) / 2]
  const [mx, my] = standing ? [-middle[1], middle[0]] : middle
  const [wide, tall] = standing
    ? [blockDeep * 1.04, blockWide * 1.04]
    : [Math.max(gang.diameter, blockWide) * 1.04, Math.max(gang.diameter, blockDeep) * 1.04]
  const size = Math.max(wide, tall)
  const ring = `M${gang.ring.map((p) => `${p[0].toFixed(2)} ${(-p[1]).toFixed(2)}`).join('L')}Z`
  const where = (e: PointerEvent): [number, number] => {
    const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(plan.current!.getScreenCTM()!.inverse())
    return [at.x, -at.y]
  }
  function change(index: number, pose: number[]) {
    const next = poses.map((p, i) => (i === index ? pose : p))
    setPoses(next)
    onMove(next)
  }
  function move(e: PointerEvent, index: number) {
    if (!drag.current) return
    const [x, y] = where(e)
    let px = Math.round(drag.current.pose[0] + x - drag.current.from[0])
    let py = Math.round(drag.current.pose[1] + y - drag.current.from[1])
    poses.forEach((p, i) => {
      if (i === index) return
      if (Math.abs(p[0] - px) < snap) px = p[0]
      if (Math.abs(p[1] - py) < snap) py = p[1]
    })
    change(index, [px, py, poses[index][2]])
  }
  const turn = (i: number) => change(i, [poses[i][0], poses[i][1], (poses[i][2] + 90) % 360])
  const lock = (i: number) => setLocked((l) => (l.includes(i) ? l.filter((n) => n !== i) : [...l, i]))
  function press(e: KeyboardEvent, i: number) {
    const seen = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key]
    const step = seen && standing ? [-seen[1], seen[0]] : seen // as the eye sees it
    const act = step || ['Enter', ' ', 't', 'l'].includes(e.key)
    if (!act || e.ctrlKey || e.metaKey || e.altKey) return
    e.preventDefault()
    e.stopPropagation()
    setHeld(i)
    if (e.key === 'l') return lock(i)
    if (locked.includes(i)) return
    if (e.key === 't') turn(i)
    if (step) change(i, [poses[i][0] + step[0], poses[i][1] + step[1], poses[i][2]])
  }
  const isLocked = held !== null && locked.includes(held)
  return (
    <>
      <svg
        className={classes.plan}
        viewBox={`${mx - wide / 2} ${my - tall / 2} ${wide} ${tall}`}
        role="group"
        aria-label={`${poses.length} cavities seen along the draw`}
      >
        <g ref={plan} transform={standing ? 'rotate(90)' : undefined}>
          {gang.diameter > 0 ? (
            <circle r={gang.diameter / 2} className={classes.block} />
          ) : (
            <rect x={gang.low[0]} y={-gang.high[1]} width={blockWide} height={blockDeep} className={classes.block} />
          )}
          {gang.ways.map((w, i) => (
            <path key={i} d={w.outlines.map(closed).join('')} className={classes.way}>
              <title>{w.name}</title>
            </path>
          ))}
          {poses.map((p, i) => (
            <g
              key={i}
              transform={`translate(${p[0]} ${-p[1]}) rotate(${-p[2]})`}
              className={classes.grab}
              role="button"
              tabIndex={0}
              aria-label={`Cavity ${i + 1}${locked.includes(i) ? ', locked' : ''}`}
              aria-pressed={held === i}
              onPointerDown={(e) => {
                setHeld(i)
                if (locked.includes(i)) return
                e.currentTarget.setPointerCapture(e.pointerId)
                drag.current = { from: where(e), pose: p, before: poses }
              }}
              onPointerMove={(e) => move(e, i)}
              onPointerUp={() => {
                drag.current = null
                if (refused) {
                  setPoses(good.current)
                  onMove(good.current)
                }
              }}
              onKeyDown={(e) => press(e, i)}
            >
              <path d={ring} className={classes.cavity} data-held={held === i || undefined} data-locked={locked.includes(i) || undefined} />
              <text
                className={classes.number}
                textAnchor="middle"
                dominantBaseline="middle"
                fontSize={size / 24}
                transform={`rotate(${p[2] - (standing ? 90 : 0)})`}
              >
                {i + 1}
              </text>
            </g>
          ))}
        </g>
      </svg>
      {held !== null && held < poses.length && (
        <div className={classes.progress}>
          Cavity {held + 1}
          <Button size="compact-xs" variant="default" disabled={isLocked} onClick={() => turn(held)}>
            turn 90°
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => lock(held)}>
            {isLocked ? 'unlock' : 'lock'}
          </Button>
        </div>
      )}
    </>
  )
}
