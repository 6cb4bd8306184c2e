import { Button, Modal, VisuallyHidden } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, type Material } from '../api/client'
import { Fault } from '../parts/Fault'
import { gridKeys } from '../parts/gridKeys'
import { ListTools } from '../parts/List'
import { Qty } from '../parts/Num'
import { MaterialForm } from './MaterialForm'
import classes from './places.module.css'

/** Stock: rubbers and resins with what their sheets say. */
export function StockPlace() {
  useDocumentTitle('Stock · Bathyform')
  const materials = api.useQuery('get', '/materials')
  const [sheet, setSheet] = useState<Material | 'new' | null>(null)
  const [asked, setAsked] = useSearchParams() // the palette opens a material
  const found = materials.data?.find((m) => m.id === asked.get('material'))
  const shown = sheet ?? found ?? null
  const close = () => {
    setSheet(null)
    if (asked.has('material')) setAsked({}, { replace: true })
  }

  if (materials.error && !materials.data) return <Fault thrown={materials.error} retry={() => void materials.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Stock</h1>
        <ListTools table="stock" />
        <Button onClick={() => setSheet('new')}>New material</Button>
      </header>
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
            <th>Source</th>
            <th>
              <VisuallyHidden>Actions</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {(materials.data ?? []).map((m) => (
            <tr key={m.id}>
              <td>
                <strong>{m.name}</strong>
              </td>
              <td>{m.kind}</td>
              <td>{m.ratio}</td>
              <td>
                <Qty value={m.density} kind="density" />
              </td>
              <td className="soft">{m.source}</td>
              <td>
                <Button size="xs" variant="default" aria-label={`Change ${m.name}`} onClick={() => setSheet(m)}>
                  Change
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
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
    </main>
  )
}
