import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Material, NamedRecipe, Study } from '../api/client'
import { inWords } from '../parts/inWords'
import { MeasureInput } from '../parts/MeasureInput'
import { Num, Qty } from '../parts/Num'
import { Remove } from '../parts/Remove'
import { Row } from '../parts/Row'
import classes from './plain.module.css'
import { useDesign } from './useDesign'

/** Colour: a recipe as it was matched once, scaled to this shot; and powder. */
export function Colour({ study, resin }: { study: Study | undefined; resin: Material | undefined }) {
  const { design, set } = useDesign()
  const recipe = design.colour
  const [name, setName] = useState('')
  const [grams, setGrams] = useState<number | null>(null)
  const [drops, setDrops] = useState<number | null>(null)
  const batch = recipe?.batch ?? null
  const kept = resin?.traits?.recipes ?? []
  const change = (part: Partial<NonNullable<typeof recipe>>) =>
    set((now) => ({ colour: { batch: now.colour?.batch ?? 100, pigments: now.colour?.pigments ?? [], ...now.colour, ...part } }))

  function add() {
    const pigment = grams ? { name: name.trim(), grams } : { name: name.trim(), drops: drops! }
    set((now) => ({ colour: { batch: 100, ...now.colour, pigments: [...(now.colour?.pigments ?? []), pigment] } }))
    setName('')
    setGrams(null)
    setDrops(null)
  }

  return (
    <>
      <h2>Colour</h2>
      {kept.length > 0 && (
        <NativeSelect
          size="xs"
          label={`Recipes that matched in ${resin?.name}`}
          value={kept.find((r) => sameRecipe(r.recipe, recipe))?.name ?? ''}
          onChange={(e) => set({ colour: kept.find((r) => r.name === e.currentTarget.value)?.recipe })}
          data={[{ value: '', label: 'none of them' }, ...kept.map((r) => ({ value: r.name, label: `${r.name}: ${inWords(r.recipe)}` }))]}
        />
      )}
      <div className={classes.form}>
        <MeasureInput
          compact
          label="Matched in a batch of"
          kind="mass"
          value={batch}
          onChange={(v) => (v === null ? set({ colour: undefined }) : change({ batch: v }))}
          allowEmpty
        />
        <MeasureInput
          compact
          label="Pigment scale shows steps of"
          kind="mass"
          value={recipe?.step ?? null}
          onChange={(v) => change({ step: v ?? undefined })}
          allowEmpty
        />
      </div>
      {recipe?.pigments.map((p, i) => {
        const dose = study?.shot.doses?.[i]
        return (
          <Row
            key={`${p.name} ${i}`}
            label={
              <>
                <strong>{p.name}</strong>{' '}
                <span className="soft">
                  {p.grams ? <Qty value={p.grams} kind="mass" /> : `${p.drops} drops`} then
                  {dose && (
                    <>
                      , sure to <Num label={`${p.name}, least`} number={dose.low} />
                      {dose.high.value !== dose.low.value && (
                        <>
                          {' to '}
                          <Num label={`${p.name}, most`} number={dose.high} />
                        </>
                      )}{' '}
                      %
                    </>
                  )}
                </span>
              </>
            }
          >
            {dose && (
              <>
                <Num label={`${p.name} for this shot`} number={dose.amount} /> {dose.byDrops && <small>drops</small>}
              </>
            )}
            <Remove what={p.name} onRemove={() => change({ pigments: recipe.pigments.filter((_, k) => k !== i) })} />
          </Row>
        )
      })}
      {recipe && recipe.pigments.length > 0 && !study?.shot.doses && <p className="soft">Choose a resin for the doses.</p>}
      {study?.shot.doses?.map((d) => (
        <Row key={d.name} label={`${d.name} for the whole order, tinted in one pot`}>
          <Num label={`${d.name} for the order`} number={d.order} /> {d.byDrops && <small>drops</small>}
        </Row>
      ))}
      <div className={classes.pigment}>
        <TextInput size="xs" label="Pigment" value={name} maxLength={60} onChange={(e) => setName(e.currentTarget.value)} />
        <MeasureInput
          compact
          label="By weight"
          kind="mass"
          value={grams}
          onChange={(v) => {
            setGrams(v)
            setDrops(null)
          }}
          allowEmpty
        />
        <MeasureInput
          compact
          label="or by drops"
          kind="number"
          value={drops}
          onChange={(v) => {
            setDrops(v)
            setGrams(null)
          }}
          allowEmpty
        />
        <Button size="xs" variant="default" disabled={name.trim() === '' || (!grams && !drops)} onClick={add}>
          Add
        </Button>
      </div>
      <p className="soft">Try it in a small cup first. Pigment goes into the part that its sheet allows, before A meets B.</p>
      <h2>Powder</h2>
      <Dust study={study} />
    </>
  )
}

type Recipe = NamedRecipe['recipe']

/** Whether two recipes are one: by what was weighed, whatever the scale. */
function sameRecipe(a: Recipe, b: Recipe | undefined): boolean {
  return inWords(a) === (b ? inWords(b) : '')
}

/** Powder dusted in before the shot: what is brushed in, and what comes back out. */
function Dust({ study }: { study: Study | undefined }) {
  const { design, set } = useDesign()
  const powder = design.powder
  const [name, setName] = useState(powder?.name ?? '')
  const put = (part: Partial<NonNullable<typeof powder>>) => set((now) => ({ powder: now.powder && { ...now.powder, ...part } }))
  return (
    <>
      <div className={classes.pigment}>
        <TextInput
          size="xs"
          label="Metal or stone, dusted in"
          placeholder="none"
          value={name}
          maxLength={60}
          onChange={(e) => setName(e.currentTarget.value)}
          onBlur={() => {
            const now = name.trim()
            if (now !== (powder?.name ?? '')) set({ powder: now === '' ? undefined : { ...powder, name: now } })
          }}
        />
        {powder && (
          <>
            <MeasureInput
              compact
              label="Brushed in"
              kind="mass"
              value={powder.dusted ?? null}
              onChange={(v) => put({ dusted: v ?? undefined, ...(v === null ? { back: undefined } : {}) })}
              allowEmpty
            />
            <MeasureInput
              compact
              label="Poured back"
              kind="mass"
              value={powder.back ?? null}
              onChange={(v) => put({ back: v ?? undefined })}
              allowEmpty
            />
          </>
        )}
      </div>
      {study?.shot.powder && (
        <>
          <Row label={`${study.shot.powder.name} that stays on a pull`}>
            <Num label="Powder that stays" number={study.shot.powder.stays} />
          </Row>
          <Row label="for the whole order">
            <Num label="Powder for the order" number={study.shot.powder.order} />
          </Row>
        </>
      )}
      {powder && (
        <p className="soft">Sparingly, on every piece of the mould, and the rest back out. Dust mask; no flame near metal dust.</p>
      )}
    </>
  )
}
