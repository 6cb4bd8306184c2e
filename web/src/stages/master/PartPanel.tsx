import { Button, SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import { api, type Job } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import classes from './master.module.css'

const units = ['mm', 'cm', 'm', 'in'] as const

/** What is known of the master at a glance. */
export function Facts({
  job,
  onUnit,
  onNext,
  onBack,
}: {
  job: Job
  onUnit: (unit: (typeof units)[number]) => void
  onNext: () => void
  onBack?: () => void
}) {
  const master = job.master!
  const mesh = master.mesh
  const [unit, setUnit] = useState(master.unit ?? 'mm')
  return (
    <>
      <h2>{master.name}</h2>
      {mesh && (
        <div className={master.unitConfirmed ? undefined : classes.ask}>
          <SegmentedControl
            fullWidth
            size="xs"
            aria-label="Unit of the mesh"
            value={unit}
            onChange={(u) => setUnit(u as typeof unit)}
            data={units.map((u) => ({ value: u, label: u }))}
          />
          {!master.unitConfirmed && (
            <p className={classes.hint}>
              Drawn in {master.unitGuess}? {master.unitWhy}.
            </p>
          )}
          {(!master.unitConfirmed || unit !== master.unit) && (
            <Button size="xs" fullWidth mt={6} onClick={() => onUnit(unit)}>
              {unit === master.unit ? `Yes, it is in ${unit}` : `It is in ${unit}`}
            </Button>
          )}
        </div>
      )}
      <Row label="Volume">
        <Num label="Volume of the master" number={master.volume} />
        {mesh && mesh.volumeError > 0 && (
          <span className="soft">
            {' '}
            ± <Qty value={mesh.volumeError} kind="volume" />
          </span>
        )}
      </Row>
      {mesh && (
        <Row label="Surface">
          <Num label="Surface of the master" number={mesh.area} />
        </Row>
      )}
      {(['x', 'y', 'z'] as const).map((axis, i) => (
        <Row key={axis} label={`Size along ${axis}`}>
          <Qty value={master.size[i]} kind="length" />
        </Row>
      ))}
      {mesh && (
        <>
          <Row label="Triangles">
            <span className="num">{mesh.triangles.toLocaleString('en-GB')}</span>
          </Row>
          <Row label="Surface closes">
            {mesh.closed ? 'yes' : mesh.openEdges > 0 ? `no, ${mesh.openEdges} open edges` : 'after mending'}
          </Row>
          <Row label="Bodies">
            <span className="num">{mesh.bodies}</span>
          </Row>
        </>
      )}
      {!mesh && <p className={classes.hint}>Volume by {master.volumeSource}.</p>}
      {onBack && (
        <p className={classes.hint}>
          It was turned.{' '}
          <button type="button" className="quiet" onClick={onBack}>
            Stand it as it was drawn
          </button>
        </p>
      )}
      <Button mt="sm" mb="sm" fullWidth disabled={!master.unitConfirmed} onClick={onNext}>
        On to the mould
      </Button>
    </>
  )
}

interface Measures {
  length: number
  width: number
  height: number
  volume?: number
  mass?: number
  density?: number
}

/** A master known by calipers and scale. */
export function Measured({ busy, onKeep }: { busy: boolean; onKeep: (m: Measures) => void }) {
  const [m, setM] = useState<Record<'length' | 'width' | 'height' | 'volume' | 'mass' | 'density', number | null>>({
    length: null,
    width: null,
    height: null,
    volume: null,
    mass: null,
    density: null,
  })
  const [by, setBy] = useState<'water' | 'scale'>('water')
  const put = (k: keyof typeof m) => (v: number | null) => setM((old) => ({ ...old, [k]: v }))
  const whole =
    m.length !== null &&
    m.width !== null &&
    m.height !== null &&
    (by === 'water' ? m.volume !== null : m.mass !== null && m.density !== null)
  return (
    <div className={classes.measures}>
      <MeasureInput compact label="Length (x)" kind="length" value={m.length} onChange={put('length')} allowEmpty />
      <MeasureInput compact label="Width (y)" kind="length" value={m.width} onChange={put('width')} allowEmpty />
      <MeasureInput compact label="Height (z)" kind="length" value={m.height} onChange={put('height')} allowEmpty />
      <SegmentedControl
        className={classes.all}
        fullWidth
        size="xs"
        aria-label="Volume by"
        value={by}
        onChange={(v) => setBy(v as 'water' | 'scale')}
        data={[
          { value: 'water', label: 'displaced water' },
          { value: 'scale', label: 'weight and density' },
        ]}
      />
      {by === 'water' ? (
        <MeasureInput compact label="Volume" kind="volume" value={m.volume} onChange={put('volume')} allowEmpty />
      ) : (
        <>
          <MeasureInput compact label="Weight" kind="mass" value={m.mass} onChange={put('mass')} allowEmpty />
          <MeasureInput compact label="Density" kind="density" value={m.density} onChange={put('density')} allowEmpty />
        </>
      )}
      <Button
        className={classes.all}
        size="xs"
        disabled={!whole}
        loading={busy}
        onClick={() =>
          onKeep({
            length: m.length!,
            width: m.width!,
            height: m.height!,
            ...(by === 'water' ? { volume: m.volume! } : { mass: m.mass!, density: m.density! }),
          })
        }
      >
        Take these measures
      </Button>
    </div>
  )
}

/** Parts that can be tried as masters. */
export function DemoParts({ onPick }: { onPick: (key: string) => void }) {
  const parts = api.useQuery('get', '/demo-parts', {}, { staleTime: Infinity }).data ?? []
  return (
    <ul className={classes.parts}>
      {parts.map((p) => (
        <li key={p.key}>
          <button type="button" onClick={() => onPick(p.key)}>
            <strong>{p.name}</strong>
            <span className="soft">{p.difficulty}</span>
          </button>
        </li>
      ))}
    </ul>
  )
}
