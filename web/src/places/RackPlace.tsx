import { Button, Menu, VisuallyHidden } from '@mantine/core'
import { useDebouncedValue, useDocumentTitle } from '@mantine/hooks'
import { keepPreviousData } from '@tanstack/react-query'
import { useState } from 'react'
import { api, client, type Derived, type Ended, type Mould } from '../api/client'
import { changes, make } from '../kept/changes'
import { day, today } from '../parts/day'
import { Fault } from '../parts/Fault'
import { gridKeys } from '../parts/gridKeys'
import { ListTools, Pages } from '../parts/List'
import { Num } from '../parts/Num'
import { usePrinted } from '../parts/usePrinted'
import { sayOutcome } from '../parts/Say'
import { Link } from 'react-router'
import classes from './places.module.css'
import { Refused } from '../parts/Refused'
import { useSending } from '../parts/useSending'
import { Season } from './Season'

/** How a mould may end. */
const endings: Record<Ended, string> = {
  worn: 'worn out',
  torn: 'torn by hand',
  spoilt: 'spoilt by a bad mix',
  lost: 'lost',
  done: 'retired',
}

/** What a state is called. */
export const states: Record<NonNullable<Mould['state']>, string> = {
  curing: 'curing',
  ready: 'ready',
  use: 'in use',
  resting: 'resting',
  suspect: '▲ suspect',
  retired: 'retired',
  bench: 'at the bench',
}

/** How many pulls are left, as a span and not as a promise. */
export function Remaining({ mould, opens }: { mould: Mould; opens?: Derived }) {
  if (mould.retired)
    return (
      <span className="soft">
        {endings[mould.ended ?? 'done']} {day(mould.retired)}
      </span>
    )
  const { low, middle, high } = mould.remaining
  const learnt =
    mould.wornMoulds === 0
      ? 'the trade’s prior alone'
      : `the trade’s prior and ${mould.wornMoulds} worn-out mould${mould.wornMoulds > 1 ? 's' : ''} of this rubber`
  return (
    <span title={`8 of 10 such moulds give between ${low} and ${high} more; from ${learnt}`}>
      about {opens ? <Num number={opens} label="Pulls that are left" /> : <span className="num">{middle}</span>} more{' '}
      <span className="soft">
        ({low} to {high})
      </span>
    </span>
  )
}

/** More moulds than are seen at a glance. */
const manyMoulds = 12

/** How many the page shows, and how many the server hands out at once. */
const page = 60
const atOnce = 200

/** Rack: the physical moulds, their pulls and what is left in them. */
export function RackPlace() {
  useDocumentTitle('Rack · Bathyform')
  const [text, setText] = useState('')
  const [skip, setSkip] = useState(0)
  const [wanted] = useDebouncedValue(text, 200)
  const query = (from: number, limit: number) => ({ params: { query: { text: wanted || undefined, limit, skip: from } } })
  const moulds = api.useQuery('get', '/moulds', query(skip, page), { placeholderData: keepPreviousData })
  const total = moulds.data?.total ?? 0
  const { printed, print } = usePrinted(total, async (from) => (await client.GET('/moulds', query(from, atOnce))).data?.moulds ?? [])
  const [season, setSeason] = useState(false)
  const { refused, sending } = useSending()
  const all = printed ?? moulds.data?.moulds ?? []

  async function retire(m: Mould, retired: string | null, ended?: Ended) {
    await sending(async () =>
      sayOutcome(
        await make(changes.retire(m, retired, ended)),
        retired ? `Mould ${m.number} is retired` : `Mould ${m.number} is in use again`,
      ),
    )
    void moulds.refetch()
  }

  if (moulds.error && !moulds.data) return <Fault thrown={moulds.error} retry={() => void moulds.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Rack</h1>
        <span className={classes.tools}>
          <ListTools
            table="rack"
            print={() => void sending(print)}
            find={
              total > manyMoulds || text !== ''
                ? {
                    text,
                    set: (t) => {
                      setText(t)
                      setSkip(0)
                    },
                    among: 'moulds',
                  }
                : undefined
            }
          />
          <a href="/api/moulds/labels.pdf" download>
            Labels
          </a>
          <a href="/api/log/json" download aria-label="The whole log as JSON">
            Log
          </a>
        </span>
        <Button size="sm" variant="default" onClick={() => setSeason(true)}>
          Bring in a season
        </Button>
      </header>
      {season && <Season moulds={all.filter((m) => !m.retired)} close={() => setSeason(false)} onDone={() => void moulds.refetch()} />}
      <Refused problem={refused} />
      {moulds.data && total === 0 && text !== '' ? (
        <p className={classes.empty}>No mould is called that, nor its job or rubber.</p>
      ) : moulds.data && total === 0 ? (
        <p className={classes.empty}>No mould stands on the rack. When one has been poured, enter it on the Pulls stage of its job.</p>
      ) : (
        <table className={classes.table} onKeyDown={gridKeys}>
          <thead>
            <tr>
              <th>Mould</th>
              <th>Job</th>
              <th>Rubber</th>
              <th>Poured</th>
              <th>State</th>
              <th>Place</th>
              <th>Cavities</th>
              <th>Pulls</th>
              <th>Good</th>
              <th>Left in it</th>
              <th>
                <VisuallyHidden>Actions</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {all.map((m) => (
              <tr key={m.id} className={m.retired ? classes.gone : undefined}>
                <td>
                  <Link to={`/rack/${m.id}`} className={classes.number}>
                    <strong>{m.number}</strong>
                  </Link>
                </td>
                <td>
                  <Link to={`/jobs/${m.jobId}/pulls`}>{m.jobName}</Link>
                </td>
                <td>{m.rubber}</td>
                <td>
                  {m.session ? (
                    <Link
                      to={`/bench/${m.session}`}
                      aria-label={`${day(m.poured)}, the session at the bench that ${m.number} was poured in`}
                    >
                      {day(m.poured)}
                    </Link>
                  ) : (
                    day(m.poured)
                  )}
                </td>
                <td className={m.state === 'suspect' ? classes.suspect : undefined}>{m.state && states[m.state]}</td>
                <td>{m.place}</td>
                <td className="num">{m.cavities}</td>
                <td className="num">{m.pulls}</td>
                <td className="num">{m.good}</td>
                <td>
                  <Remaining mould={m} />
                </td>
                <td>
                  {m.retired ? (
                    <Button size="xs" variant="default" aria-label={`Back into use: ${m.number}`} onClick={() => void retire(m, null)}>
                      Back into use
                    </Button>
                  ) : (
                    <Menu position="bottom-end">
                      <Menu.Target>
                        <Button size="xs" variant="default" aria-label={`Retire ${m.number}…`}>
                          Retire…
                        </Button>
                      </Menu.Target>
                      <Menu.Dropdown>
                        <Menu.Item onClick={() => void retire(m, today(), 'worn')}>Worn out</Menu.Item>
                        <Menu.Label>By accident</Menu.Label>
                        <Menu.Item onClick={() => void retire(m, today(), 'torn')}>Torn by hand</Menu.Item>
                        <Menu.Item onClick={() => void retire(m, today(), 'spoilt')}>Spoilt by a bad mix</Menu.Item>
                        <Menu.Item onClick={() => void retire(m, today(), 'lost')}>Lost</Menu.Item>
                        <Menu.Divider />
                        <Menu.Item onClick={() => void retire(m, today(), 'done')}>No longer wanted</Menu.Item>
                      </Menu.Dropdown>
                    </Menu>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Pages of="the rack" total={total} skip={skip} page={page} newer="Before" older="Further" onSkip={setSkip} />
      <p className={classes.why}>
        What is left is a span: 8 of 10 such moulds end inside it. It starts from the trade’s round figure (about 40 pulls, common practice)
        and learns from every mould of the same rubber that wears out. <Link to="/forecasts">How good the forecasts were</Link>
      </p>
    </main>
  )
}
