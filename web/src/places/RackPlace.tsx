import { Button, Menu, VisuallyHidden } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useState } from 'react'
import { api, type Mould } from '../api/client'
import { changes, make } from '../kept/changes'
import { day, today } from '../parts/day'
import { Fault } from '../parts/Fault'
import { gridKeys } from '../parts/gridKeys'
import { ListTools, More, says } from '../parts/List'
import { useSome } from '../parts/useSome'
import { sayOutcome } from '../parts/Say'
import { Link } from 'react-router'
import classes from './places.module.css'
import { Refused } from '../parts/Refused'
import { useSending } from '../parts/useSending'
import { Season } from './Season'

/** How many pulls are left, as a span and not as a promise. */
export function Remaining({ mould }: { mould: Mould }) {
  if (mould.retired)
    return (
      <span className="soft">
        {mould.wornOut ? 'worn out' : 'retired'} {day(mould.retired)}
      </span>
    )
  const { low, middle, high } = mould.remaining
  const learnt =
    mould.wornMoulds === 0
      ? 'the trade’s prior alone'
      : `the trade’s prior and ${mould.wornMoulds} worn-out mould${mould.wornMoulds > 1 ? 's' : ''} of this rubber`
  return (
    <span title={`8 of 10 such moulds give between ${low} and ${high} more; from ${learnt}`}>
      about <span className="num">{middle}</span> more{' '}
      <span className="soft">
        ({low} to {high})
      </span>
    </span>
  )
}

/** More moulds than are seen at a glance. */
const manyMoulds = 12

/** Rack: the physical moulds, their pulls and what is left in them. */
export function RackPlace() {
  useDocumentTitle('Rack · Bathyform')
  const moulds = api.useQuery('get', '/moulds')
  const [text, setText] = useState('')
  const [season, setSeason] = useState(false)
  const { refused, sending } = useSending()
  const all = moulds.data ?? []
  const { some, left, showMore } = useSome(all.filter((m) => says(text, m.number, m.jobName, m.rubber)))

  async function retire(m: Mould, retired: string | null, wornOut: boolean) {
    await sending(async () =>
      sayOutcome(
        await make(changes.retire(m, retired, wornOut)),
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
          <ListTools table="rack" find={all.length > manyMoulds ? { text, set: setText, among: 'moulds' } : undefined} />
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
      {moulds.data?.length === 0 ? (
        <p className={classes.empty}>No mould stands on the rack. When one has been poured, enter it on the Pulls stage of its job.</p>
      ) : (
        <table className={classes.table} onKeyDown={gridKeys}>
          <thead>
            <tr>
              <th>Mould</th>
              <th>Job</th>
              <th>Rubber</th>
              <th>Poured</th>
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
            {some.map((m) => (
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
                <td className="num">{m.cavities}</td>
                <td className="num">{m.pulls}</td>
                <td className="num">{m.good}</td>
                <td>
                  <Remaining mould={m} />
                </td>
                <td>
                  {m.retired ? (
                    <Button
                      size="xs"
                      variant="default"
                      aria-label={`Back into use: ${m.number}`}
                      onClick={() => void retire(m, null, false)}
                    >
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
                        <Menu.Item onClick={() => void retire(m, today(), true)}>Worn out</Menu.Item>
                        <Menu.Item onClick={() => void retire(m, today(), false)}>Lost, damaged, or no longer wanted</Menu.Item>
                      </Menu.Dropdown>
                    </Menu>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <More left={left} onMore={showMore} />
      <p className={classes.why}>
        What is left is a span: 8 of 10 such moulds end inside it. It starts from the trade’s round figure (about 40 pulls, common practice)
        and learns from every mould of the same rubber that wears out.
      </p>
    </main>
  )
}
