import { useState } from 'react'
import type { Design, Point, Study } from '../../api/client'
import { brought } from '../../parts/axes'
import { MeasureInput } from '../../parts/MeasureInput'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

/** The two places of the way in that a hand may set: where resin enters the part, and where the sprue stands. */
export function WayIn({ gates, place, up }: { gates: Study['gates']; place: readonly number[]; up: readonly number[] }) {
  const { design, set } = useDesign()
  const mouth = gates.channels.find((c) => c.cavity === 0 && (c.kind === 'gate' || c.kind === 'sprue'))
  const sprue = gates.channels.find((c) => c.kind === 'sprue')
  return (
    <ul className={classes.vents} aria-label="Where resin comes in">
      {mouth && (
        <Spot
          name={design.feed === 'top' ? 'Opening' : 'Gate'}
          at={design.foot ?? brought(place, mouth.kind === 'gate' ? mouth.path[mouth.path.length - 1] : mouth.path[0])}
          own={!!design.foot}
          onMove={(foot) => set({ foot })}
        />
      )}
      {design.feed === 'low' && sprue && (
        <Spot name="Sprue" at={design.shaft ?? sprue.path[0]} own={!!design.shaft} skip={up} onMove={(shaft) => set({ shaft })} />
      )}
    </ul>
  )
}

interface SpotProps {
  name: string
  at: readonly number[]
  own: boolean
  /** The way along which it does not matter where it is. */
  skip?: readonly number[]
  onMove: (at: Design['foot']) => void
}

function Spot({ name, at, own, skip, onMove }: SpotProps) {
  const [moving, setMoving] = useState(false)
  return (
    <li>
      <span>
        {name} <span className="soft">{own ? 'where you put it' : 'as proposed'}</span>
      </span>
      <span>
        <button
          type="button"
          className="quiet"
          aria-expanded={moving}
          aria-label={`Move the ${name.toLowerCase()} by its coordinates`}
          onClick={() => setMoving(!moving)}
        >
          move
        </button>{' '}
        {own && (
          <button type="button" className="quiet" aria-label={`The ${name.toLowerCase()} as proposed`} onClick={() => onMove(undefined)}>
            as proposed
          </button>
        )}
      </span>
      {moving && (
        <div className={classes.coordinates}>
          {(['x', 'y', 'z'] as const).map(
            (axis, k) =>
              !skip?.[k] && (
                <MeasureInput
                  key={axis}
                  compact
                  signed
                  kind="length"
                  label={`${name}, ${axis}`}
                  value={at[k]}
                  onChange={(v) => v !== null && onMove(at.map((x, j) => (j === k ? v : x)) as Point)}
                />
              ),
          )}
        </div>
      )}
    </li>
  )
}
