import { Button } from '@mantine/core'
import { useState } from 'react'
import type { Point } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Qty } from '../../parts/Num'
import { Remove } from '../../parts/Remove'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

/** Places on walls that the parting line is led through, one by one. */
export function PartingLine({
  leading,
  setLeading,
  show,
}: {
  /** The reach of the place that is about to be pressed. */
  leading: number | null
  setLeading: (reach: number | null) => void
  show: (at: Point) => void
}) {
  const { design, set } = useDesign()
  const [reach, setReach] = useState(15)
  const all = design.line ?? []
  return (
    <>
      <div className={classes.pair}>
        <MeasureInput
          compact
          label="Parting line led back within"
          kind="length"
          value={reach}
          onChange={(v) => v !== null && setReach(v)}
        />
        <Button
          size="xs"
          mt="auto"
          variant={leading !== null ? 'filled' : 'default'}
          aria-pressed={leading !== null}
          onClick={() => setLeading(leading === null ? reach : null)}
        >
          {leading !== null ? 'Press a wall' : 'Lead the line…'}
        </Button>
      </div>
      {all.length > 0 && (
        <ul className={classes.vents} aria-label="Places of the parting line">
          {all.map((p, i) => (
            <li key={i}>
              <span>
                {i + 1} <span className="soft">within</span> <Qty value={p.reach} kind="length" />
              </span>
              <span>
                <button
                  type="button"
                  className="quiet"
                  aria-label={`Show place ${i + 1} of the parting line`}
                  onClick={() => show(p.at as Point)}
                >
                  show
                </button>
                <Remove
                  what={`place ${i + 1} of the parting line`}
                  onRemove={() => set((now) => ({ line: now.line?.filter((_, k) => k !== i) }))}
                />
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}
