import { Button, VisuallyHidden } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Derived, type Learnt, type LearntOffer, type Material, type MaterialSheet, type Traits } from '../api/client'
import { changes, make } from '../kept/changes'
import { day } from '../parts/day'
import { Fault } from '../parts/Fault'
import { Num, Qty } from '../parts/Num'
import { measures, MeasuredForm } from '../parts/MeasuredForm'
import { Refused } from '../parts/Refused'
import { sayOutcome } from '../parts/Say'
import { useSending } from '../parts/useSending'
import { useReadings } from '../parts/useShop'
import classes from './places.module.css'

type Lesson = Learnt['lessons'][number]

/** What the shop's log teaches of the figures that it reckons with: never taken by itself, always offered. */
export function LearntPlace() {
  useDocumentTitle('What the log teaches · Bathyform')
  const learnt = api.useQuery('get', '/learnt')
  const finishing = api.useQuery('get', '/learnt/finishing') // designs are worked out for it: the others do not wait
  const shop = api.useQuery('get', '/shop')
  const materials = api.useQuery('get', '/materials')
  const queries = useQueryClient()
  const said = useReadings()
  const { busy, refused, sending } = useSending()

  async function takeIt(offer: LearntOffer) {
    await sending(async () => {
      const practice = shop.data?.practice
      if (offer.of === 'practice' && shop.data && practice)
        sayOutcome(
          await make(changes.keepPractice(shop.data.version, { ...practice, [offer.field]: offer.value })),
          'The house reckons with it now',
        )
      const m = materials.data?.find((x) => x.id === offer.materialId)
      if (offer.of === 'material' && m)
        sayOutcome(
          await make(changes.keepMaterial(m, { ...sheetOf(m), traits: { ...m.traits, ...figureOf(offer, m) } })),
          `${m.name} is kept`,
        )
      await queries.invalidateQueries()
    })
  }

  if (learnt.error && !learnt.data) return <Fault thrown={learnt.error} retry={() => void learnt.refetch()} />
  const lessons = learnt.data?.lessons ?? []
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>What the log teaches</h1>
        <Link to="/practice">House practice</Link>
      </header>
      <p className={classes.why}>
        Figures that this shop has measured, beside those that it reckons with. Nothing is taken over by itself; a figure is offered from
        three measurements on. Where a kind was measured a few times only, its mean leans on those of the others, by as much as its own
        scatter is larger than what they differ by. The bench writes down most of it; the rest is yours to add.
      </p>
      <Refused problem={refused} />
      <details>
        <summary>Write down what was measured</summary>
        <MeasuredForm materials={materials.data ?? []} onDone={() => void learnt.refetch()} />
      </details>
      {lessons.map((l) => (
        <LessonTable key={l.key} lesson={l} busy={busy} take={takeIt} />
      ))}
      {finishing.data ? (
        <LessonTable lesson={finishing.data.lesson} busy={busy} take={takeIt} />
      ) : finishing.error ? (
        <Fault thrown={finishing.error} retry={() => void finishing.refetch()} />
      ) : (
        <p className="soft">What finishing takes is held against the designs…</p>
      )}
      {(learnt.data?.measured.length ?? 0) > 0 && (
        <details className={classes.section}>
          <summary>What was measured, the latest first</summary>
          <ul>
            {learnt.data?.measured.map((m) => (
              <li key={m.id}>
                <span className="num">{day(m.day)}</span> {m.material}, {measures[m.what].label.toLowerCase()}:{' '}
                {measures[m.what].unit === 'g' ? (
                  <Qty value={m.value} kind="mass" />
                ) : (
                  <>
                    <span className="num">{m.value}</span> {measures[m.what].unit}
                  </>
                )}
                {m.celsius !== undefined && ` at ${said.warmth(m.celsius)}`}
                {m.grams !== undefined && (
                  <>
                    {' of '}
                    <Qty value={m.grams} kind="mass" />
                  </>
                )}{' '}
                {m.session ? <Link to={`/bench/${m.session}`}>{m.says || 'at the bench'}</Link> : m.says}{' '}
                <Strike id={m.id} again={() => void learnt.refetch()} />
              </li>
            ))}
          </ul>
        </details>
      )}
    </main>
  )
}

/** A material's sheet as it is sent. */
function sheetOf(m: Material): MaterialSheet {
  const body: MaterialSheet & Partial<Material> = { ...m }
  delete body.id
  delete body.version
  delete body.ratio
  return body
}

/** What an offer changes of a sheet: a figure, or one of its colour recipes. */
function figureOf(offer: LearntOffer, m: Material): Traits {
  const { recipe } = offer
  if (!recipe) return { [offer.field]: offer.value }
  return { recipes: [...(m.traits?.recipes ?? []).filter((r) => r.name !== recipe.name), recipe] }
}

function LessonTable({ lesson: l, busy, take }: { lesson: Lesson; busy: boolean; take: (offer: LearntOffer) => Promise<void> }) {
  const counted = l.key === 'yield' || l.key === 'colour'
  return (
    <section className={classes.section} aria-label={l.title}>
      <h2>{l.title}</h2>
      {l.rows.length === 0 ? (
        <p className="soft">Nothing yet. {empty[l.key]}</p>
      ) : (
        <>
          <table className={classes.table}>
            <thead>
              <tr>
                <th>{counted ? 'Of' : l.key === 'finishing' ? 'Part' : 'Material'}</th>
                <th>Measured</th>
                {l.key !== 'gel' && <th>{counted ? 'As counted' : 'Mean'}</th>}
                <th>Spread</th>
                <th>{l.key === 'gel' ? 'At the sheet’s warmth' : 'Leant on the others'}</th>
                <th>
                  <VisuallyHidden>What is offered</VisuallyHidden>
                </th>
              </tr>
            </thead>
            <tbody>
              {l.rows.map((r) => (
                <tr key={`${r.of} ${r.jobId ?? ''}`}>
                  <td>{r.jobId ? <Link to={`/jobs/${r.jobId}/pulls`}>{r.of}</Link> : r.of}</td>
                  <td className="num">{r.count}</td>
                  {l.key !== 'gel' && (
                    <td className="num">{r.mean && <Figure number={r.mean} label={`As measured, ${r.of}`} unit={l.unit} />}</td>
                  )}
                  <td className="num">
                    {r.spread && (
                      <>
                        {l.key === 'gel' ? '× ' : '± '}
                        <Num number={r.spread} label={`Spread, ${r.of}`} />
                      </>
                    )}
                    {r.low && r.high && (
                      <>
                        <Num number={r.low} label={`Least, ${r.of}`} /> to <Num number={r.high} label={`Most, ${r.of}`} />
                      </>
                    )}
                  </td>
                  <td>
                    {r.pooled && <Figure number={r.pooled} label={`${l.title}, ${r.of}`} unit={l.unit} />}
                    {r.error && (
                      <span className="soft">
                        {' '}
                        ± <Num number={r.error} label={`Standard error, ${r.of}`} />
                      </span>
                    )}{' '}
                    {r.says}
                  </td>
                  <td>
                    {r.offers?.map((o) => (
                      <p key={o.field} className={classes.offer}>
                        <Offer offer={o} busy={busy} take={take} />
                      </p>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {l.house && <Offer offer={l.house} busy={busy} take={take} />}
          <p className={classes.why}>{l.why}</p>
        </>
      )}
    </section>
  )
}

/** A figure with its unit, where it has none of its own. */
function Figure({ number, label, unit }: { number: Derived; label: string; unit: string }) {
  return (
    <span className="num">
      <Num number={number} label={label} /> {number.kind === 'number' && unit}
    </span>
  )
}

/** A figure of the house beside what the log says, and the button that takes it. */
function Offer({ offer, busy, take }: { offer: LearntOffer; busy: boolean; take: (offer: LearntOffer) => Promise<void> }) {
  if (offer.recipe) return <RecipeOffer offer={offer} busy={busy} take={take} />
  if (Math.abs(offer.value - offer.has) < 1e-9) return <span className="soft">✓ {offer.label}: the house reckons with it</span>
  return (
    <span className={classes.actions}>
      <span>
        {offer.label}: the {offer.of === 'practice' ? 'house' : 'sheet'} has{' '}
        <span className="num">{offer.has === 0 && offer.of === 'material' ? 'nothing' : offer.has}</span>
        {offer.usual && (offer.of === 'practice' || offer.has !== 0) && ' (as is usual)'}
      </span>
      <Button size="xs" variant="default" loading={busy} onClick={() => void take(offer)}>
        Take {offer.value}
      </Button>
    </span>
  )
}

/** A colour recipe that matched, and the button that puts it on the sheet of its resin. */
function RecipeOffer({ offer, busy, take }: { offer: LearntOffer; busy: boolean; take: (offer: LearntOffer) => Promise<void> }) {
  if (offer.has > 0) return <span className="soft">✓ on the sheet of {offer.label}</span>
  return (
    <span className={classes.actions}>
      {offer.replaces && (
        <span>
          {offer.label} has another for {offer.recipe?.name}
        </span>
      )}
      <Button size="xs" variant="default" loading={busy} onClick={() => void take(offer)}>
        {offer.replaces ? 'Take this one' : `Keep it with ${offer.label}`}
      </Button>
    </span>
  )
}

function Strike({ id, again }: { id: string; again: () => void }) {
  const [struck, setStruck] = useState(false)
  const { refused, sending } = useSending()
  return (
    <>
      <button
        type="button"
        className="quiet"
        onClick={() =>
          void sending(async () => {
            sayOutcome(
              await make(struck ? changes.unstrikeMeasured(id) : changes.strikeMeasured(id)),
              struck ? 'It counts again' : 'Struck',
            )
            setStruck(!struck)
            if (struck) again()
          })
        }
      >
        {struck ? 'count it again' : 'strike'}
      </button>
      <Refused problem={refused} />
    </>
  )
}

const empty: Record<Lesson['key'], string> = {
  residue: 'Weigh an emptied cup, and take its own weight off.',
  bucket: 'Weigh an emptied bucket, and take its own weight off.',
  pour: 'The bench times it in a rubber pour.',
  demould: 'The bench times it in a casting run.',
  gel: 'The bench times a cup that gelled; or take the time of a small cup.',
  yield: 'Log a pull.',
  colour: 'Write the recipe and whether it matched beside a pull.',
  finishing: 'Write the minutes of finishing beside a pull.',
}
