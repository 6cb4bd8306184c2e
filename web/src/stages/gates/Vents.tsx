import { Button, NativeSelect } from '@mantine/core'
import { useState } from 'react'
import type { Design, Study } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Qty } from '../../parts/Num'
import { Remove } from '../../parts/Remove'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'
import { led } from './feet'

type Vent = Design['vents'][number]

interface Props {
  gates: Study['gates'] | undefined
  adding: boolean
  setAdding: (adding: boolean) => void
  propose: () => void
}

/** The vents: each with its foot, which is led by hand on the part or by its coordinates. */
export function Vents({ gates, adding, setAdding, propose }: Props) {
  const { design, set } = useDesign()
  const [moving, setMoving] = useState<number | null>(null)
  return (
    <>
      <div className={classes.head}>
        <h2>Vents</h2>
        <Button size="compact-xs" variant={adding ? 'filled' : 'default'} aria-pressed={adding} onClick={() => setAdding(!adding)}>
          Add vent
        </Button>
        <Button size="compact-xs" variant="default" onClick={propose}>
          Propose
        </Button>
      </div>
      <ul className={classes.vents} aria-label="Vents">
        {design.vents.map((v, i) => {
          const channel = gates?.channels.find((c) => c.vent === i)
          return (
            <li key={i}>
              <span>
                {i + 1} <span className="soft">foot at</span> {channel ? <Qty value={channel.foot} kind="length" /> : '–'}
              </span>
              <span>
                <span className="soft">bore</span> <Qty value={v.bore} kind="length" />{' '}
                <select
                  className={classes.state}
                  aria-label={`Vent ${i + 1} as the mould is poured`}
                  value={v.state ?? ''}
                  onChange={(e) => {
                    const state = (e.currentTarget.value || undefined) as typeof v.state
                    set((now) => ({ vents: now.vents.map((w, k) => (k === i ? { ...w, state } : w)) }))
                  }}
                >
                  {states.map((s) => (
                    <option key={s.value} value={s.value}>
                      {s.label}
                    </option>
                  ))}
                </select>
                <button
                  type="button"
                  className="quiet"
                  aria-expanded={moving === i}
                  aria-label={`More of vent ${i + 1}: its place, its bore and how it ends`}
                  onClick={() => setMoving(moving === i ? null : i)}
                >
                  more
                </button>
                <Remove
                  what={`vent ${i + 1}`}
                  onRemove={() => {
                    setMoving(null)
                    set((now) => ({ vents: now.vents.filter((_, k) => k !== i) }))
                  }}
                />
              </span>
              {moving === i && (
                <>
                  <Coordinates vent={v} number={i + 1} onMove={(at) => set((now) => ({ vents: led(now.vents, i, at) }))} />
                  <Ends
                    vent={v}
                    number={i + 1}
                    onChange={(part) => set((now) => ({ vents: now.vents.map((w, k) => (k === i ? { ...w, ...part } : w)) }))}
                  />
                </>
              )}
            </li>
          )
        })}
        {design.vents.length === 0 && <li className="soft">None yet. Press Propose, or Add vent and then the part.</li>}
      </ul>
    </>
  )
}

/** What becomes of a vent: open throughout, plugged once resin weeps out, plugged before the pour, or not there until it is needed. */
const states = [
  { value: '', label: 'open' },
  { value: 'weeps', label: 'till it weeps' },
  { value: 'plugged', label: 'plugged' },
  { value: 'later', label: 'cut later' },
]

/** Where a vent ends, how wide it is, and whether its wire is cast in. */
function Ends({ vent, number, onChange }: { vent: Vent; number: number; onChange: (part: Partial<Vent>) => void }) {
  const end = vent.rim ? 'rim' : vent.cup ? 'cup' : 'top'
  return (
    <div className={classes.coordinates}>
      <MeasureInput
        compact
        kind="length"
        label={`Vent ${number}, bore`}
        value={vent.bore}
        onChange={(bore) => bore !== null && onChange({ bore })}
      />
      <NativeSelect
        size="xs"
        label={`Vent ${number} ends`}
        value={end}
        onChange={(e) => {
          const to = e.currentTarget.value
          onChange({ rim: to === 'rim' || undefined, cup: to === 'cup' ? 5 * vent.bore : undefined })
        }}
        data={[
          { value: 'top', label: 'at the top' },
          { value: 'rim', label: "at the well's rim" },
          { value: 'cup', label: 'in a cup' },
        ]}
      />
      {vent.cup ? (
        <MeasureInput
          compact
          kind="length"
          label={`Cup of vent ${number}`}
          value={vent.cup}
          onChange={(cup) => cup !== null && onChange({ cup })}
        />
      ) : null}
      <NativeSelect
        size="xs"
        label={`Vent ${number} is made`}
        value={vent.cut ? 'cut' : 'cast'}
        onChange={(e) => onChange({ cut: e.currentTarget.value === 'cut' || undefined })}
        data={[
          { value: 'cast', label: 'by a wire cast in' },
          { value: 'cut', label: 'by cutting it' },
        ]}
      />
    </div>
  )
}

function Coordinates({ vent, number, onMove }: { vent: Vent; number: number; onMove: (at: [number, number, number]) => void }) {
  return (
    <div className={classes.coordinates}>
      {(['x', 'y', 'z'] as const).map((axis, k) => (
        <MeasureInput
          key={axis}
          compact
          signed
          kind="length"
          label={`Vent ${number}, ${axis}`}
          value={vent.at[k]}
          onChange={(v) => v !== null && onMove(vent.at.map((x, j) => (j === k ? v : x)) as [number, number, number])}
        />
      ))}
    </div>
  )
}
