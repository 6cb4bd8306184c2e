import { Button, NativeSelect } from '@mantine/core'
import { useState } from 'react'
import { axes, dir } from '../../parts/axes'
import type { Axis, LockedSpace } from '../../api/client'
import { Num, Qty } from '../../parts/Num'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'

const shownAtFirst = 8

/** What becomes of an undercut, in words. */
function told(u: LockedSpace) {
  if (u.freed) return u.by
  if (u.decided) return 'stripped'
  switch (u.answer) {
    case 'strips':
      return `strips out of ${u.by}`
    case 'split':
      return 'each half keeps its own end'
    case 'plug':
      return 'holds: fill it on the master'
    default:
      return u.mode === 'threaded' ? 'threaded: cut the rubber there' : 'wants a slit'
  }
}

/** What locks the halves, and what becomes of each: a side piece, stripping, or a draw of the caster's own. */
export function Undercuts({ all }: { all: LockedSpace[] }) {
  const { set } = useDesign()
  const [turning, setTurning] = useState<number | null>(null)
  const [more, setMore] = useState(false)
  const worth = all.filter((u) => u.volume > 0.005)
  if (worth.length === 0) return null
  const near = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
  const say = (u: LockedSpace, choice: { strip: boolean; draw?: number[] } | null) =>
    set((now) => {
      const others = (now.sides ?? []).filter((s) => near(s.at, u.at) > 0.5)
      return { sides: choice ? [...others, { at: u.at, ...choice }] : others }
    })
  return (
    <>
      <h2>Undercuts</h2>
      <ul className={classes.undercuts}>
        {worth.slice(0, more ? undefined : shownAtFirst).map((u, i) => (
          <li key={u.at.join()}>
            <span>
              <Qty value={u.volume} kind="volume" /> {told(u) + (u.decided ? ', as you said' : '')}{' '}
              {u.mode !== 'threaded' && !u.freed && (
                <>
                  <Num label={`Strain there, of undercut ${i + 1}`} number={u.strain} /> % of{' '}
                  <Num label={`Strain allowed, of undercut ${i + 1}`} number={u.allowed} /> %
                </>
              )}
            </span>
            {turning === i ? (
              <NativeSelect
                size="xs"
                aria-label="Its piece leaves along"
                value=""
                autoFocus
                onBlur={() => setTurning(null)}
                onChange={(e) => {
                  say(u, { strip: false, draw: dir(e.currentTarget.value as Axis) })
                  setTurning(null)
                }}
                data={[{ value: '', label: 'leaves along…' }, ...axes.map((a) => ({ value: a, label: a }))]}
              />
            ) : (
              <span>
                {u.freed ? (
                  <Button size="compact-xs" variant="subtle" onClick={() => say(u, { strip: true })}>
                    strip it
                  </Button>
                ) : (
                  <Button size="compact-xs" variant="subtle" onClick={() => say(u, { strip: false })}>
                    side piece
                  </Button>
                )}
                <Button size="compact-xs" variant="subtle" onClick={() => setTurning(i)}>
                  turn
                </Button>
                {u.decided && (
                  <Button size="compact-xs" variant="subtle" onClick={() => say(u, null)}>
                    as proposed
                  </Button>
                )}
              </span>
            )}
          </li>
        ))}
      </ul>
      {worth.length > shownAtFirst && !more && (
        <Button size="compact-xs" variant="subtle" onClick={() => setMore(true)}>
          {worth.length - shownAtFirst} more
        </Button>
      )}
    </>
  )
}
