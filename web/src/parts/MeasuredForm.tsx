import { Button, NativeSelect, NumberInput, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import type { Material } from '../api/client'
import { changes, make } from '../kept/changes'
import classes from '../places/places.module.css'
import { today } from './day'
import { Refused } from './Refused'
import { sayOutcome } from './Say'
import { useSending } from './useSending'

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
  const [value, setValue] = useState<number | string>('')
  const [grams, setGrams] = useState<number | string>('')
  const [celsius, setCelsius] = useState<number | string>('')
  const [on, setOn] = useState(today())
  const { busy, refused, sending } = useSending()
  const what = given?.what ?? chosen
  const rubber = what === 'bucket' || what === 'pour'
  const names = materials.filter((m) => m.kind === (rubber ? 'rubber' : 'resin')).map((m) => m.name)
  const of = given?.material ?? (names.includes(material) ? material : (names[0] ?? ''))
  const number = (v: number | string) => (v === '' ? undefined : Number(v))
  async function keep(e: FormEvent) {
    e.preventDefault()
    await sending(async () => {
      const body = { day: on, what, material: of, value: Number(value), grams: number(grams), celsius: number(celsius) }
      sayOutcome(await make(changes.addMeasured(body)), 'Written down')
      setValue('')
      onDone()
    })
  }
  return (
    <form className={classes.form} onSubmit={(e) => void keep(e)} aria-label="What was measured" noValidate>
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
      <NumberInput
        label={`${given ? measures[what].label : 'How much'}, ${measures[what].unit}`}
        hideControls
        value={value}
        onChange={setValue}
      />
      {what !== 'gel' && what !== 'demould' && (
        <NumberInput label={rubber ? 'Batch, g' : 'Batch, g, if you know'} hideControls value={grams} onChange={setGrams} />
      )}
      {(what === 'gel' || what === 'demould') && <NumberInput label="In the shop, °C" hideControls value={celsius} onChange={setCelsius} />}
      {!given && <TextInput label="Day" type="date" value={on} max={today()} onChange={(e) => setOn(e.currentTarget.value)} />}
      <Button type="submit" variant="default" loading={busy} disabled={value === ''}>
        Write it down
      </Button>
      <Refused problem={refused} />
    </form>
  )
}
