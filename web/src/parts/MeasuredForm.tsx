import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Problem, type Material } from '../api/client'
import { changes, make } from '../kept/changes'
import classes from '../places/places.module.css'
import { today } from './day'
import { MeasureInput } from './MeasureInput'
import { useSettled } from './pending'
import { Refused } from './Refused'
import { sayOutcome } from './Say'
import { useSending } from './useSending'
import { WarmthInput } from './WarmthInput'

/** What is measured at the work, and in what. */
export const measures = {
  residue: { label: 'Left in the cup', unit: 'g' },
  bucket: { label: 'Left in the bucket', unit: 'g' },
  pour: { label: 'Poured in', unit: 'min' },
  demould: { label: 'Came out well after', unit: 'min' },
  gel: { label: 'Could not be poured after', unit: 'min' },
} as const

/** What a session knows of what is to be measured in it. */
interface Given {
  what: keyof typeof measures
  material: string
}

/** Something that was measured at the work; of a session that is over only how much is asked. */
export function MeasuredForm({ materials, given, onDone }: { materials: Material[]; given?: Given; onDone: () => void }) {
  const [chosen, setWhat] = useState<keyof typeof measures>('residue')
  const [material, setMaterial] = useState('')
  const [value, setValue] = useState<number | null>(null)
  const [grams, setGrams] = useState<number | null>(null)
  const [celsius, setCelsius] = useState<number | null>(null)
  const [on, setOn] = useState(today())
  const { busy, refused, sending } = useSending()
  const what = given?.what ?? chosen
  const rubber = what === 'bucket' || what === 'pour'
  const names = materials.filter((m) => m.kind === (rubber ? 'rubber' : 'resin')).map((m) => m.name)
  const of = given?.material ?? (names.includes(material) ? material : (names[0] ?? ''))
  const onSubmit = useSettled(async () => {
    await sending(async () => {
      if (value === null) throw new Problem('Nothing is written there', 'Give what was measured.', 422)
      const body = { day: on, what, material: of, value, grams: grams ?? undefined, celsius: celsius ?? undefined }
      sayOutcome(await make(changes.addMeasured(body)), 'Written down')
      setValue(null)
      onDone()
    })
  })
  return (
    <form className={classes.form} onSubmit={onSubmit} aria-label="What was measured" noValidate>
      {!given && (
        <>
          <NativeSelect
            label="What"
            value={what}
            onChange={(e) => setWhat(e.currentTarget.value as typeof what)}
            data={Object.entries(measures).map(([key, k]) => ({ value: key, label: `${k.label}, ${k.unit}` }))}
          />
          <NativeSelect label="Of" value={of} onChange={(e) => setMaterial(e.currentTarget.value)} data={names} />
        </>
      )}
      {measures[what].unit === 'g' ? (
        <MeasureInput label={given ? measures[what].label : 'How much'} kind="mass" value={value} onChange={setValue} allowEmpty />
      ) : (
        <MeasureInput
          label={given ? measures[what].label : 'How long'}
          kind="number"
          unit={measures[what].unit}
          value={value}
          onChange={setValue}
          allowEmpty
        />
      )}
      {what !== 'gel' && what !== 'demould' && (
        <MeasureInput label={rubber ? 'Batch' : 'Batch, if you know'} kind="mass" value={grams} onChange={setGrams} allowEmpty />
      )}
      {(what === 'gel' || what === 'demould') && <WarmthInput label="In the shop" value={celsius} onChange={setCelsius} allowEmpty />}
      {!given && <TextInput label="Day" type="date" value={on} max={today()} onChange={(e) => setOn(e.currentTarget.value)} />}
      <Button type="submit" variant="default" loading={busy}>
        Write it down
      </Button>
      <Refused problem={refused} />
    </form>
  )
}
