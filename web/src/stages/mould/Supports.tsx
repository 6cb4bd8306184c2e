import { Button, NativeSelect } from '@mantine/core'
import { useState } from 'react'
import type { Point, Study } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Remove } from '../../parts/Remove'
import { Row } from '../../parts/Row'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

type Kind = NonNullable<Study['hold']>['points'][number]['kind']

const kinds: Record<Kind, string> = {
  pin: 'pin from below',
  foot: 'foot in a hole of the board',
  stick: 'stick from below',
  wire: 'wire from above',
  bar: 'stick from a bar above',
}

export interface Placing {
  kind: Kind
  bore: number
}

/** How the master stands or hangs in a block that is poured all round it. */
export function Supports({
  placing,
  setPlacing,
  show,
}: {
  placing: Placing | null
  setPlacing: (p: Placing | null) => void
  show: (at: Point) => void
}) {
  const { design, study, set } = useDesign()
  const [kind, setKind] = useState<Kind>('pin')
  const [bore, setBore] = useState(2)
  const hold = study?.hold
  if (!hold) return null
  const added = hold.points.filter((p) => !p.rod)
  return (
    <>
      <h2>What holds the master</h2>
      <p className={classes.hint}>
        {hold.points.length === 0 ? 'Nothing yet.' : `${hold.told}.`} {hold.own ? 'The supports are yours.' : 'Proposed.'}{' '}
        {hold.own && (
          <button type="button" className="quiet" onClick={() => set({ supports: undefined })}>
            take the proposal
          </button>
        )}
      </p>
      <ul className={classes.vents} aria-label="Supports">
        {added.map((p, i) => (
          <li key={i}>
            <span>
              {i + 1} <span className="soft">{kinds[p.kind]}</span>
            </span>
            <span>
              <Qty value={p.bore} kind="length" />{' '}
              <button type="button" className="quiet" aria-label={`Show support ${i + 1}`} onClick={() => show(p.at as Point)}>
                show
              </button>
              <Remove what={`support ${i + 1}`} onRemove={() => set({ supports: own(added.filter((_, k) => k !== i)) })} />
            </span>
          </li>
        ))}
      </ul>
      <div className={classes.triple}>
        <NativeSelect
          size="xs"
          label="Another"
          value={kind}
          onChange={(e) => setKind(e.currentTarget.value as Kind)}
          data={Object.entries(kinds).map(([value, label]) => ({ value, label }))}
        />
        <MeasureInput compact label="Its bore" kind="length" value={bore} onChange={(v) => v !== null && setBore(v)} />
        <Button
          size="xs"
          mt="auto"
          variant={placing ? 'filled' : 'default'}
          aria-pressed={placing !== null}
          onClick={() => setPlacing(placing ? null : { kind, bore })}
        >
          {placing ? 'Press the part' : 'Place it'}
        </Button>
      </div>
      <Row label="The rubber lifts it by">
        <Num label="Lift on the master" number={hold.lift} />
      </Row>
      {design.supports === undefined && added.length === 0 && (
        <p className={classes.hint}>The rods of sprue and vents hold it: no further hole in the rubber.</p>
      )}
    </>
  )
}

/** Supports as they are kept. */
export const own = (all: { kind: Kind; at: readonly number[]; bore: number }[]) =>
  all.length === 0 ? undefined : all.map(({ kind, at, bore }) => ({ kind, at: at as Point, bore }))
