import { Button, Checkbox, Modal, NativeSelect, TextInput } from '@mantine/core'
import { useState } from 'react'
import { api, client, ifMatch, type Material, type MaterialSheet, type Traits } from '../api/client'
import { Fault } from '../parts/Fault'
import { MeasureInput } from '../parts/MeasureInput'
import { Qty } from '../parts/Num'
import { say, sayProblem } from '../parts/Say'
import { WarmthInput } from '../parts/WarmthInput'
import classes from './places.module.css'

type Figure = [
  key:
    | 'shore'
    | 'elongation'
    | 'viscosity'
    | 'celsius'
    | 'potLife'
    | 'demould'
    | 'minSection'
    | 'maxSection'
    | 'shrink'
    | 'heat'
    | 'strength'
    | 'pourFrom'
    | 'pourTo'
    | 'kit',
  label: string,
  kind: 'number' | 'length',
  unit?: string,
]
const common: Figure[] = [
  ['viscosity', 'Viscosity, mixed', 'number', 'Pa·s'],
  ['celsius', 'Sheet’s times are for', 'number', '°C'],
  ['potLife', 'Pot life', 'number', 'min'],
  ['demould', 'Demould after', 'number', 'min'],
  ['shrink', 'Shrink', 'number', '%'],
  ['kit', 'Sold in kits of', 'number', 'g'],
]
const rubberTraits: Figure[] = [
  ['shore', 'Hardness, Shore A', 'number'],
  ['elongation', 'Elongation at break', 'number', '%'],
  ['heat', 'Stands heat up to', 'number', '°C'],
  ...common,
]
const resinTraits: Figure[] = [
  ['minSection', 'Thinnest section', 'length'],
  ['maxSection', 'Thickest section', 'length'],
  ...common,
  ['heat', 'Stands heat up to', 'number', '°C'],
  ['strength', 'Tensile strength', 'number', 'MPa'],
  ['shore', 'Hardness where flexible, Shore A', 'number'],
  ['pourFrom', 'Melted: poured from', 'number', '°C'],
  ['pourTo', 'and up to', 'number', '°C'],
]

const blank: MaterialSheet = { kind: 'rubber', name: '', partsA: 10, partsB: 1, byVolume: false, density: 1.1, source: '' }

/** Stock: rubbers and resins with what their sheets say. */
export function StockPlace() {
  const materials = api.useQuery('get', '/materials')
  const [sheet, setSheet] = useState<(MaterialSheet & Partial<Material>) | null>(null)

  async function keep() {
    if (!sheet) return
    const { id, version, ...body } = sheet
    delete body.ratio // in words, which the server makes of the parts
    try {
      if (id && version)
        await client.PUT('/materials/{materialId}', { params: { path: { materialId: id }, header: ifMatch(version) }, body })
      else await client.POST('/materials', { body })
      say(`${sheet.name} is kept`)
      setSheet(null)
    } catch (thrown) {
      sayProblem(thrown)
    }
    void materials.refetch()
  }

  if (materials.error) return <Fault thrown={materials.error} retry={() => void materials.refetch()} />
  const put = (part: Partial<MaterialSheet>) => setSheet((s) => s && { ...s, ...part })
  const trait = (part: Traits) => setSheet((s) => s && { ...s, traits: { ...s.traits, ...part } })
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Stock</h1>
        <Button onClick={() => setSheet(blank)}>New material</Button>
      </header>
      {materials.data?.length === 0 && (
        <p className={classes.empty}>
          The shelf is empty. Add the rubbers and resins you use, with ratio and density from their data sheets.
        </p>
      )}
      <table className={classes.table}>
        <thead>
          <tr>
            <th>Material</th>
            <th>Kind</th>
            <th>A to B</th>
            <th>Density, mixed</th>
            <th>Source</th>
            <th aria-label="Actions" />
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
      <Modal opened={sheet !== null} onClose={() => setSheet(null)} title={sheet?.id ? 'Change the material' : 'New material'} size="lg">
        {sheet && (
          <>
            <div className={classes.form}>
              <NativeSelect
                label="Kind"
                value={sheet.kind}
                onChange={(e) => put({ kind: e.currentTarget.value as Material['kind'] })}
                data={['rubber', 'resin']}
              />
              <TextInput label="Name" value={sheet.name} onChange={(e) => put({ name: e.currentTarget.value })} />
              <MeasureInput label="Parts A" kind="number" value={sheet.partsA} onChange={(v) => v !== null && put({ partsA: v })} />
              <MeasureInput
                label="Parts B, 0 for what is melted"
                kind="number"
                value={sheet.partsB}
                onChange={(v) => v !== null && put({ partsB: v })}
              />
              <Checkbox
                label="The ratio is by volume"
                checked={sheet.byVolume}
                onChange={(e) => put({ byVolume: e.currentTarget.checked })}
              />
              <MeasureInput
                label="Density, mixed"
                kind="density"
                value={sheet.density}
                onChange={(v) => v !== null && put({ density: v })}
              />
              {sheet.byVolume && (
                <>
                  <MeasureInput
                    label="Density of A"
                    kind="density"
                    value={sheet.densityA ?? null}
                    onChange={(v) => put({ densityA: v ?? undefined })}
                    allowEmpty
                  />
                  <MeasureInput
                    label="Density of B"
                    kind="density"
                    value={sheet.densityB ?? null}
                    onChange={(v) => put({ densityB: v ?? undefined })}
                    allowEmpty
                  />
                </>
              )}
              {sheet.kind === 'rubber' && (
                <NativeSelect
                  label="Cures by"
                  value={sheet.traits?.family ?? ''}
                  onChange={(e) => trait({ family: e.currentTarget.value as Traits['family'] })}
                  data={[{ value: '', label: 'not said' }, 'tin', 'platinum', 'urethane']}
                />
              )}
              {(sheet.kind === 'rubber' ? rubberTraits : resinTraits).map(([key, label, kind, unit]) => {
                const asked = {
                  label,
                  value: sheet.traits?.[key] ?? null,
                  onChange: (v: number | null) => trait({ [key]: v ?? undefined }),
                  allowEmpty: true,
                }
                return unit === '°C' ? <WarmthInput key={key} {...asked} /> : <MeasureInput key={key} {...asked} kind={kind} unit={unit} />
              })}
              {sheet.kind === 'resin' && (
                <>
                  <NativeSelect
                    label="Colour as it cures"
                    value={sheet.traits?.colour ?? ''}
                    onChange={(e) => trait({ colour: e.currentTarget.value as Traits['colour'] })}
                    data={[{ value: '', label: 'not said' }, 'clear', 'white', 'amber', 'black']}
                  />
                  <Checkbox
                    label="Cures flexible"
                    checked={sheet.traits?.flexible ?? false}
                    onChange={(e) => trait({ flexible: e.currentTarget.checked })}
                  />
                  <Checkbox
                    label="Stands light and weather"
                    checked={sheet.traits?.outdoor ?? false}
                    onChange={(e) => trait({ outdoor: e.currentTarget.checked })}
                  />
                </>
              )}
              <Checkbox
                label="Cures clear"
                checked={sheet.traits?.clear ?? false}
                onChange={(e) => trait({ clear: e.currentTarget.checked })}
              />
              <TextInput
                label="Source"
                description="data sheet, own measurement"
                value={sheet.source ?? ''}
                onChange={(e) => put({ source: e.currentTarget.value })}
              />
            </div>
            <Button onClick={() => void keep()}>Keep</Button>
          </>
        )}
      </Modal>
    </main>
  )
}
