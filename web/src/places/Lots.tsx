import { Button, NativeSelect, NumberInput, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import { Link } from 'react-router'
import type { Lot, Material, StockOf } from '../api/client'
import { changes, make } from '../kept/changes'
import { day, today } from '../parts/day'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import { useSettled } from '../parts/pending'
import { Left, Refused } from '../parts/Refused'
import { sayOutcome } from '../parts/Say'
import { useKept } from '../parts/useKept'
import { useSending } from '../parts/useSending'
import classes from './places.module.css'

/** All lots of a material: what is left of each, what went out, and what to do with one. */
export function Lots({ material, stock, again }: { material: Material; stock?: StockOf; again: () => void }) {
  const [open, setOpen] = useState<{ lot: Lot; what: 'counted' | 'thrown' | 'correct' } | null>(null)
  const lots = stock?.lots ?? []
  const moves = stock?.moves ?? []
  const two = material.partsB > 0
  const done = () => {
    setOpen(null)
    again()
  }
  return (
    <>
      {lots.length === 0 ? (
        <p className="soft">
          Nobody keeps count of it yet. Enter the can or kit that stands on the shelf, and it is drawn down by what is weighed.
        </p>
      ) : (
        <table className={classes.table}>
          <thead>
            <tr>
              <th>Lot</th>
              <th>Bought</th>
              <th>Opened</th>
              <th>Use by</th>
              <th>{two ? 'A left' : 'Left'}</th>
              {two && <th>B left</th>}
              <th />
            </tr>
          </thead>
          <tbody>
            {lots.map((l) => (
              <tr key={l.id} className={l.past ? classes.gone : undefined}>
                <td>
                  <strong>{l.name}</strong>
                </td>
                <td className="num">{day(l.bought)}</td>
                <td className="num">{l.opened && day(l.opened)}</td>
                <td className="num">
                  {l.ends && day(l.ends)} {l.past && '▲ past'}
                </td>
                <td>{l.leftA && <Num number={l.leftA} label={`A left of ${l.name}`} />}</td>
                {two && <td>{l.leftB && <Num number={l.leftB} label={`B left of ${l.name}`} />}</td>}
                <td>
                  <span className={classes.actions}>
                    {(['counted', 'thrown', 'correct'] as const).map((what) => (
                      <button
                        key={what}
                        type="button"
                        className="quiet"
                        aria-expanded={open?.lot.id === l.id && open.what === what}
                        aria-label={`${acts[what]} lot ${l.name}`}
                        onClick={() => setOpen(open?.lot.id === l.id && open.what === what ? null : { lot: l, what })}
                      >
                        {acts[what].toLowerCase()}
                      </button>
                    ))}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {open && open.what !== 'correct' && (
        <Moved key={`${open.lot.id} ${open.what}`} lot={open.lot} what={open.what} two={two} onDone={done} />
      )}
      {open?.what === 'correct' && <LotForm key={open.lot.id} material={material} lot={open.lot} onDone={done} />}
      <details open={lots.length === 0}>
        <summary>A lot that was bought</summary>
        <LotForm material={material} onDone={again} />
      </details>
      {moves.length > 0 && (
        <details>
          <summary>What went out, the latest first</summary>
          <ul>
            {moves.map((m, i) => (
              <li key={i}>
                <span className="num">{day(m.day)}</span> {words[m.what]} <Qty value={m.gramsA} kind="mass" />
                {two && (
                  <>
                    {' '}
                    and <Qty value={m.gramsB} kind="mass" />
                  </>
                )}
                {m.lot ? ` of lot ${m.lot}` : ', without a lot'}
                {(m.session ?? m.says) && ': '}
                {m.session ? <Link to={`/bench/${m.session}`}>{m.says || 'at the bench'}</Link> : m.says}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  )
}

const acts = { counted: 'Count', thrown: 'Throw away', correct: 'Correct' }
const words = { counted: 'counted', thrown: 'thrown away', drawn: 'weighed' }

/** A stocktake of a lot, or what of it was thrown away. */
function Moved({ lot, what, two, onDone }: { lot: Lot; what: 'counted' | 'thrown'; two: boolean; onDone: () => void }) {
  const [a, setA] = useState<number | null>(what === 'counted' ? Math.max(0, lot.leftA?.value ?? 0) : null)
  const [b, setB] = useState<number | null>(what === 'counted' ? Math.max(0, lot.leftB?.value ?? 0) : null)
  const [on, setOn] = useState(today())
  const { busy, refused, sending } = useSending()
  const onSubmit = useSettled(async () => {
    await sending(async () => {
      sayOutcome(
        await make(changes.moveLot(lot, { day: on, what, gramsA: a ?? 0, gramsB: b ?? 0 })),
        what === 'counted' ? 'Counted' : 'Written off',
      )
      onDone()
    })
  })
  return (
    <form className={classes.form} onSubmit={onSubmit} aria-label={`${acts[what]} lot ${lot.name}`} noValidate>
      <MeasureInput
        label={two ? 'A, as it stands on the scale' : 'As it stands on the scale'}
        kind="mass"
        value={a}
        onChange={setA}
        allowEmpty
      />
      {two && <MeasureInput label="B, as it stands on the scale" kind="mass" value={b} onChange={setB} allowEmpty />}
      <TextInput label="Day" type="date" value={on} max={today()} onChange={(e) => setOn(e.currentTarget.value)} />
      <Button type="submit" variant="default" loading={busy}>
        {what === 'counted' ? `That is left of ${lot.name}` : `That was thrown away of ${lot.name}`}
      </Button>
      <p className="soft">
        Without the can: take its own weight off. {what === 'thrown' && 'Let it cure first; waste goes by the local rules.'}
      </p>
      <Refused problem={refused} />
    </form>
  )
}

interface LotEntry {
  name: string
  bought: string
  opened: string
  expires: string
  keeps: number | string
  a: number | null
  b: number | null
  price: number | string
}

const entryOf = (l: Lot): LotEntry => ({
  name: l.name,
  bought: l.bought,
  opened: l.opened ?? '',
  expires: l.expires ?? '',
  keeps: l.keeps ?? '',
  a: l.gramsA,
  b: l.gramsB,
  price: l.price ?? '',
})

const fresh: LotEntry = { name: '', bought: today(), opened: '', expires: '', keeps: '', a: null, b: null, price: '' }

/** A lot as it was bought: a can, or kits of both parts. */
function LotForm({ material, lot, onDone }: { material: Material; lot?: Lot; onDone: () => void }) {
  const form = useKept(lot ? `lot ${lot.id} ${lot.version}` : `new lot ${material.id}`, lot ? entryOf(lot) : fresh)
  const { value: e, put } = form
  const { busy, refused, sending } = useSending()
  const two = material.partsB > 0
  const kit = material.traits?.kit
  /** Kits hold both parts as the ratio has them; by volume the densities tell what that weighs. */
  const kits = (n: number) => {
    const perA = material.byVolume ? material.partsA * (material.densityA ?? material.density) : material.partsA
    const perB = material.byVolume ? material.partsB * (material.densityB ?? material.density) : material.partsB
    const whole = n * (kit ?? 0)
    put({ a: (whole * perA) / (perA + perB), b: (whole * perB) / (perA + perB) })
  }
  const send = useSettled(async () => {
    const now = form.current()
    const body = {
      name: now.name.trim(),
      bought: now.bought,
      opened: now.opened || undefined,
      expires: now.expires || undefined,
      keeps: now.keeps === '' ? undefined : Number(now.keeps),
      gramsA: now.a ?? 0,
      gramsB: two ? (now.b ?? 0) : 0,
      price: now.price === '' ? undefined : Number(now.price),
    }
    await sending(async () => {
      sayOutcome(await make(lot ? changes.correctLot(lot, body) : changes.addLot(material, body)), lot ? 'Corrected' : 'On the shelf')
      form.clear()
      onDone()
    })
  })
  return (
    <form
      className={classes.form}
      onSubmit={(event: FormEvent) => void send(event)}
      noValidate
      aria-label={lot ? `Correct lot ${lot.name}` : 'A lot that was bought'}
    >
      <TextInput label="Number on the label" value={e.name} maxLength={60} onChange={(c) => put({ name: c.currentTarget.value })} />
      {two && kit !== undefined && kit > 0 && (
        <NativeSelect
          label="Bought as kits"
          value=""
          onChange={(c) => c.currentTarget.value && kits(Number(c.currentTarget.value))}
          data={[
            { value: '', label: 'fill in both parts' },
            ...[1, 2, 3, 4, 5, 10].map((n) => ({ value: String(n), label: `${n} × ${kit / 1000} kg` })),
          ]}
        />
      )}
      <MeasureInput label={two ? 'Part A, as bought' : 'As bought'} kind="mass" value={e.a} onChange={(a) => put({ a })} allowEmpty />
      {two && <MeasureInput label="Part B, as bought" kind="mass" value={e.b} onChange={(b) => put({ b })} allowEmpty />}
      <TextInput label="Bought on" type="date" value={e.bought} max={today()} onChange={(c) => put({ bought: c.currentTarget.value })} />
      <TextInput label="Opened on" type="date" value={e.opened} max={today()} onChange={(c) => put({ opened: c.currentTarget.value })} />
      <TextInput label="Use by, on the label" type="date" value={e.expires} onChange={(c) => put({ expires: c.currentTarget.value })} />
      <NumberInput label="Once open it keeps, days" hideControls min={1} value={e.keeps} onChange={(keeps) => put({ keeps })} />
      <NumberInput label="Price of a kilogram" hideControls min={0} value={e.price} onChange={(price) => put({ price })} />
      <Button type="submit" loading={busy} variant={lot ? 'default' : 'filled'}>
        {lot ? 'Correct it' : 'Put it on the shelf'}
      </Button>
      <Refused problem={refused} />
      <Left left={form.left} clear={form.clear} />
    </form>
  )
}
