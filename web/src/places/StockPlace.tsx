import { Button, Modal, VisuallyHidden } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, type Material } from '../api/client'
import { Fault } from '../parts/Fault'
import { Sign } from '../parts/Findings'
import { day } from '../parts/day'
import { gridKeys } from '../parts/gridKeys'
import { ListTools } from '../parts/List'
import { Num, Qty } from '../parts/Num'
import { Lots } from './Lots'
import { MaterialForm } from './MaterialForm'
import classes from './places.module.css'

/** Stock: rubbers and resins with what their sheets say, their lots, and how long they last. */
export function StockPlace() {
  useDocumentTitle('Stock · Bathyform')
  const materials = api.useQuery('get', '/materials')
  const stock = api.useQuery('get', '/stock')
  const [sheet, setSheet] = useState<Material | 'new' | null>(null)
  const [lots, setLots] = useState<Material | null>(null)
  const [asked, setAsked] = useSearchParams() // the palette opens a material
  const found = materials.data?.find((m) => m.id === asked.get('material'))
  const shown = sheet ?? found ?? null
  const close = () => {
    setSheet(null)
    if (asked.has('material')) setAsked({}, { replace: true })
  }
  const of = (m: Material) => stock.data?.materials.find((s) => s.materialId === m.id)
  const findings = stock.data?.findings ?? []

  if (materials.error && !materials.data) return <Fault thrown={materials.error} retry={() => void materials.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Stock</h1>
        <ListTools table="stock" />
        <Button onClick={() => setSheet('new')}>New material</Button>
      </header>
      {stock.error && <Fault thrown={stock.error} retry={() => void stock.refetch()} />}
      {findings.length > 0 && (
        <ul className={classes.told} aria-label="What stands against the stock">
          {findings.map((f) => (
            <li key={f.what}>
              <Sign severity={f.severity} /> <strong>{f.what}</strong> {f.why}{' '}
              <span className="soft">{f.source && `Source: ${f.source}.`}</span>
            </li>
          ))}
        </ul>
      )}
      {materials.data?.length === 0 && (
        <p className={classes.empty}>
          The shelf is empty. Add the rubbers and resins you use, with ratio and density from their data sheets.
        </p>
      )}
      <table className={classes.table} onKeyDown={gridKeys}>
        <thead>
          <tr>
            <th>Material</th>
            <th>Kind</th>
            <th>A to B</th>
            <th>Density, mixed</th>
            <th>Left</th>
            <th>Orders take</th>
            <th>A kilogram</th>
            <th>Source</th>
            <th>
              <VisuallyHidden>Actions</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {(materials.data ?? []).map((m) => {
            const s = of(m)
            return (
              <tr key={m.id}>
                <td>
                  <strong>{m.name}</strong>
                </td>
                <td>{m.kind}</td>
                <td>{m.ratio}</td>
                <td>
                  <Qty value={m.density} kind="density" />
                </td>
                <td>
                  {s?.usable ? <Num number={s.usable} label={`Left of ${m.name}`} /> : <span className="soft">not counted</span>}
                  {s?.runsOut && <div className={classes.suspect}>▲ until {day(s.runsOut)}</div>}
                </td>
                <td>{s?.need && <Num number={s.need} label={`What the orders take of ${m.name}`} />}</td>
                <td className="num">{s?.price}</td>
                <td className="soft">{m.source}</td>
                <td>
                  <span className={classes.actions}>
                    <Button size="xs" variant="default" aria-label={`Lots of ${m.name}`} onClick={() => setLots(m)}>
                      Lots
                    </Button>
                    <Button size="xs" variant="default" aria-label={`Change ${m.name}`} onClick={() => setSheet(m)}>
                      Change
                    </Button>
                  </span>
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className={classes.why}>
        What is left is what was bought, or counted last, less what was weighed since: at the bench, and in pulls that name a lot. Without a
        lot it goes off the one that was opened first. What orders take of a rubber is told once a mould of theirs was weighed at the bench.
        Prices are in your own money.
      </p>
      <Modal opened={shown !== null} onClose={close} title={shown === 'new' ? 'New material' : 'Change the material'} size="lg">
        {shown && (
          <MaterialForm
            material={shown === 'new' ? null : shown}
            onDone={() => {
              close()
              void materials.refetch()
            }}
          />
        )}
      </Modal>
      <Modal opened={lots !== null} onClose={() => setLots(null)} title={`Lots of ${lots?.name ?? ''}`} size="xl">
        {lots && <Lots material={lots} stock={of(lots)} again={() => void stock.refetch()} />}
      </Modal>
    </main>
  )
}
