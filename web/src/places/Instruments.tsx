import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import { asProblem, client, type InstrumentLine, type Practice, type Problem } from '../api/client'
import { Broken } from '../parts/Broken'
import { Refused } from '../parts/Refused'
import { useSearch } from '../parts/useSearch'
import type { Change } from './PracticePlace'
import classes from './places.module.css'

type Instrument = NonNullable<Practice['instruments']>[number]

const names: Record<Instrument['kind'], string> = {
  scale: 'Gram scale',
  pot: 'Pressure pot',
  vacuum: 'Vacuum gauge',
  air: 'Thermometer and humidity',
}
const units: Record<Instrument['kind'], string> = { scale: 'g', pot: 'kPa', vacuum: 'kPa', air: '°C' }
const seconds: Partial<Record<Instrument['kind'], string>> = { vacuum: 'mm of foam', air: '% humidity' }

/** The instruments of the bench: where each is, how its line is read, and what it says just now. */
export function Instruments({ practice, put }: { practice: Practice; put: (change: Change) => void }) {
  const all = practice.instruments ?? []
  const set = (i: number, part: Partial<Instrument>) =>
    put((now) => ({ instruments: (now.instruments ?? []).map((x, k) => (k === i ? { ...x, ...part } : x)) }))
  return (
    <>
      <h2 className={classes.section}>Instruments</h2>
      <p className={classes.why}>
        Each says a line for every reading, over the network or a serial line. The figure that stands still can be taken; one that is
        silent, overloaded or creeps is not believed.
      </p>
      {all.map((x, i) => (
        <One
          key={`${i} ${x.kind} ${x.address} ${x.pattern} ${x.unit}`}
          n={i}
          instrument={x}
          set={(part) => set(i, part)}
          drop={() => put((now) => ({ instruments: (now.instruments ?? []).filter((_, k) => k !== i) }))}
        />
      ))}
      <div className={classes.form}>
        <Button
          variant="default"
          onClick={() => put((now) => ({ instruments: [...(now.instruments ?? []), { kind: 'scale', address: '127.0.0.1:8451' }] }))}
        >
          Add an instrument
        </Button>
      </div>
    </>
  )
}

function One({
  n,
  instrument,
  set,
  drop,
}: {
  n: number
  instrument: Instrument
  set: (part: Partial<Instrument>) => void
  drop: () => void
}) {
  const [heard, setHeard] = useState(false)
  const name = `${names[instrument.kind]} ${n + 1}`
  return (
    <section aria-label={name}>
      <div className={classes.form}>
        <NativeSelect
          label={`Instrument ${n + 1}`}
          value={instrument.kind}
          onChange={(e) => set({ kind: e.currentTarget.value as Instrument['kind'] })}
          data={Object.entries(names).map(([value, label]) => ({ value, label }))}
        />
        <Text label={`Address of instrument ${n + 1}`} value={instrument.address} onKeep={(address) => set({ address })} />
        <Text
          label={`Pattern of instrument ${n + 1}`}
          description="empty for the usual"
          value={instrument.pattern ?? ''}
          onKeep={(pattern) => set({ pattern: pattern || undefined })}
        />
        <Text
          label={`Unit of instrument ${n + 1}`}
          description="of lines that say none"
          value={instrument.unit ?? ''}
          onKeep={(unit) => set({ unit: unit || undefined })}
        />
      </div>
      <div className={classes.form}>
        <Button variant="default" aria-expanded={heard} onClick={() => setHeard(!heard)}>
          {heard ? `Stop hearing ${n + 1}` : `Hear instrument ${n + 1}`}
        </Button>
        <Button variant="default" onClick={drop}>
          Remove instrument {n + 1}
        </Button>
      </div>
      {heard && <Heard n={n} instrument={instrument} />}
    </section>
  )
}

/** What an instrument says just now, and a line to say to its stand-in. */
function Heard({ n, instrument }: { n: number; instrument: Instrument }) {
  const { found, broken, again } = useSearch<InstrumentLine>(`/api/instruments/${n}/live`)
  const [line, setLine] = useState('')
  const [refused, setRefused] = useState<Problem | null>(null)
  async function say(e: FormEvent) {
    e.preventDefault()
    setRefused(null)
    try {
      await client.POST('/instruments/{which}/say', { params: { path: { which: n } }, body: { line } })
      setLine('')
    } catch (thrown) {
      setRefused(asProblem(thrown))
    }
  }
  const unit = units[instrument.kind]
  return (
    <>
      <Broken problem={broken} again={again} />
      <p role="status">
        {!found && 'Listening…'}
        {found?.trouble && `▲ ${found.trouble}`}
        {found?.value !== undefined && !found.trouble && (
          <>
            <strong className="num">
              {found.value.toFixed(1)} {unit}
            </strong>
            {seconds[instrument.kind] && found.second !== undefined && ` · ${found.second.toFixed(0)} ${seconds[instrument.kind]}`}
            {instrument.kind === 'scale' && (found.settled === undefined ? ' · it moves' : ' · it stands')}
          </>
        )}
      </p>
      {found?.line && (
        <p className="soft">
          its line: <code>{found.line}</code>
        </p>
      )}
      <form className={classes.form} onSubmit={(e) => void say(e)}>
        <TextInput
          label={`Say to instrument ${n + 1}`}
          description="a stand-in understands put 50, pour 100, tare, unplug 5"
          value={line}
          onChange={(e) => setLine(e.currentTarget.value)}
        />
        <Button type="submit" variant="default">
          Say it to {n + 1}
        </Button>
      </form>
      <Refused problem={refused} />
    </>
  )
}

/** A text that is kept once it is written. */
function Text({
  label,
  description,
  value,
  onKeep,
}: {
  label: string
  description?: string
  value: string
  onKeep: (value: string) => void
}) {
  const [text, setText] = useState(value)
  return (
    <TextInput
      label={label}
      description={description}
      value={text}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={() => text !== value && onKeep(text.trim())}
    />
  )
}
