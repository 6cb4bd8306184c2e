import { Button, Checkbox, NativeSelect, TextInput } from '@mantine/core'
import type { Material, MaterialSheet, Traits } from '../api/client'
import { changes, make } from '../kept/changes'
import { inWords } from '../parts/inWords'
import { MeasureInput } from '../parts/MeasureInput'
import { useSettled } from '../parts/pending'
import { Remove } from '../parts/Remove'
import { Left, Refused } from '../parts/Refused'
import { sayOutcome } from '../parts/Say'
import { useKept } from '../parts/useKept'
import { useSending } from '../parts/useSending'
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
    | 'q10'
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
  ['q10', 'Times as fast 10 °C warmer', 'number'],
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

/** What the sheet of a material says; of a new one where none is given. */
export function MaterialForm({ material, onDone }: { material: Material | null; onDone: () => void }) {
  const fresh: MaterialSheet & Partial<Material> = material ?? blank
  const { value, current, put, clear, left } = useKept(material ? `material ${material.id} ${material.version}` : 'new material', fresh)
  const { busy, refused, sending } = useSending()
  const trait = (part: Traits) => put((now) => ({ traits: { ...now.traits, ...part } }))

  const onSubmit = useSettled(async () => {
    const body: MaterialSheet & Partial<Material> = { ...current() }
    delete body.id
    delete body.version
    delete body.ratio // in words, which the server makes of the parts
    await sending(async () => {
      sayOutcome(await make(material ? changes.keepMaterial(material, body) : changes.addMaterial(body)), `${value.name} is kept`)
      clear()
      onDone()
    })
  })

  return (
    <form onSubmit={onSubmit} noValidate>
      <div className={classes.form}>
        <NativeSelect
          label="Kind"
          value={value.kind}
          onChange={(e) => put({ kind: e.currentTarget.value as Material['kind'] })}
          data={['rubber', 'resin']}
        />
        <TextInput label="Name" value={value.name} onChange={(e) => put({ name: e.currentTarget.value })} />
        <MeasureInput label="Parts A" kind="number" value={value.partsA} onChange={(v) => v !== null && put({ partsA: v })} />
        <MeasureInput
          label="Parts B, 0 for what is melted"
          kind="number"
          value={value.partsB}
          onChange={(v) => v !== null && put({ partsB: v })}
        />
        <Checkbox label="The ratio is by volume" checked={value.byVolume} onChange={(e) => put({ byVolume: e.currentTarget.checked })} />
        <MeasureInput label="Density, mixed" kind="density" value={value.density} onChange={(v) => v !== null && put({ density: v })} />
        {value.byVolume && (
          <>
            <MeasureInput
              label="Density of A"
              kind="density"
              value={value.densityA ?? null}
              onChange={(v) => put({ densityA: v ?? undefined })}
              allowEmpty
            />
            <MeasureInput
              label="Density of B"
              kind="density"
              value={value.densityB ?? null}
              onChange={(v) => put({ densityB: v ?? undefined })}
              allowEmpty
            />
          </>
        )}
        {value.kind === 'rubber' && (
          <NativeSelect
            label="Cures by"
            value={value.traits?.family ?? ''}
            onChange={(e) => trait({ family: e.currentTarget.value as Traits['family'] })}
            data={[{ value: '', label: 'not said' }, 'tin', 'platinum', 'urethane']}
          />
        )}
        {(value.kind === 'rubber' ? rubberTraits : resinTraits).map(([key, label, kind, unit]) => {
          const asked = {
            label,
            value: value.traits?.[key] ?? null,
            onChange: (v: number | null) => trait({ [key]: v ?? undefined }),
            allowEmpty: true,
          }
          return unit === '°C' ? <WarmthInput key={key} {...asked} /> : <MeasureInput key={key} {...asked} kind={kind} unit={unit} />
        })}
        {value.kind === 'resin' && (
          <>
            <NativeSelect
              label="Colour as it cures"
              value={value.traits?.colour ?? ''}
              onChange={(e) => trait({ colour: e.currentTarget.value as Traits['colour'] })}
              data={[{ value: '', label: 'not said' }, 'clear', 'white', 'amber', 'black']}
            />
            <Checkbox
              label="Cures flexible"
              checked={value.traits?.flexible ?? false}
              onChange={(e) => trait({ flexible: e.currentTarget.checked })}
            />
            <Checkbox
              label="Stands light and weather"
              checked={value.traits?.outdoor ?? false}
              onChange={(e) => trait({ outdoor: e.currentTarget.checked })}
            />
          </>
        )}
        {value.traits?.recipes && value.traits.recipes.length > 0 && (
          <div>
            <p>Colour recipes that matched</p>
            <ul data-entries>
              {value.traits.recipes.map((r) => (
                <li key={r.name}>
                  {r.name}: {inWords(r.recipe)}{' '}
                  <Remove
                    what={`the recipe for ${r.name}`}
                    onRemove={() =>
                      put((now) => ({ traits: { ...now.traits, recipes: now.traits?.recipes?.filter((x) => x.name !== r.name) } }))
                    }
                  />
                </li>
              ))}
            </ul>
          </div>
        )}
        <Checkbox label="Cures clear" checked={value.traits?.clear ?? false} onChange={(e) => trait({ clear: e.currentTarget.checked })} />
        <TextInput
          label="Source"
          description="data sheet, own measurement"
          value={value.source ?? ''}
          onChange={(e) => put({ source: e.currentTarget.value })}
        />
      </div>
      <Refused problem={refused} />
      <Button type="submit" loading={busy}>
        Keep
      </Button>
      <Left left={left} clear={clear} />
    </form>
  )
}
