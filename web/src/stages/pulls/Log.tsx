import { Modal, VisuallyHidden } from '@mantine/core'
import { keepPreviousData } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, client, type Job, type Mould, type Pull } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { useWaiting } from '../../kept/useWaiting'
import { day } from '../../parts/day'
import { gridKeys } from '../../parts/gridKeys'
import { ListTools, Pages } from '../../parts/List'
import { Qty } from '../../parts/Num'
import { sayOutcome } from '../../parts/Say'
import classes from '../plain.module.css'
import { PullHistory } from './History'
import { PullForm } from './PullForm'
import { Refused } from '../../parts/Refused'
import { useSending } from '../../parts/useSending'
import { usePrinted } from '../../parts/usePrinted'
import { useReadings } from '../../parts/useShop'
import { Photos } from './Photos'

/** What a pull was made under, in a line. */
const under = (p: Pull, said: ReturnType<typeof useReadings>) =>
  [
    p.at && `poured ${p.at}`,
    p.out !== undefined && `out after ${p.out} min`,
    p.celsius !== undefined && said.warmth(p.celsius),
    p.humidity !== undefined && `${p.humidity} %`,
    p.pressure !== undefined && said.pressure(p.pressure),
    p.lot && `lot ${p.lot}`,
    p.colour && `${p.colour}${p.matched === undefined ? '' : p.matched ? ' ✓' : ' ◆'}`,
    p.finishing !== undefined && `${p.finishing} min of finishing`,
    p.who,
  ]
    .filter(Boolean)
    .join(', ')

/** How many pulls the log shows at a time. */
const page = 100

/** How many pulls the server hands out at once. */
const atOnce = 500

/** The log of a job: every pull, the struck ones struck through. */
export function Log({
  job,
  moulds,
  again,
  onPicking,
}: {
  job: Job
  moulds: Mould[]
  again: () => void
  onPicking: (picking: boolean) => void
}) {
  const [skip, setSkip] = useState(0)
  const said = useReadings()
  const { refused, sending } = useSending()
  const [right, setRight] = useState<Pull | null>(null)
  const [shown, setShown] = useState<string | null>(null)
  const log = api.useQuery(
    'get',
    '/pulls',
    { params: { query: { job: job.id, limit: page, skip } } },
    { placeholderData: keepPreviousData },
  )
  const { total = 0 } = log.data ?? {}
  const { printed, print } = usePrinted(total, async (skip) => {
    const { data } = await client.GET('/pulls', { params: { query: { job: job.id, limit: atOnce, skip } } })
    return data?.pulls ?? []
  })
  const pulls = printed ?? log.data?.pulls ?? []

  const ids = new Set(moulds.map((m) => m.id))
  const waiting = useWaiting().filter((w) => w.path === '/moulds/{mouldId}/pulls' && ids.has(w.params?.mouldId ?? ''))

  async function strike(p: Pull) {
    await sending(async () => {
      const outcome = await make(p.struck ? changes.unstrikePull(p) : changes.strikePull(p))
      sayOutcome(outcome, p.struck ? 'Counted again' : 'Struck from the log', p.struck ? '' : 'It can be counted again.')
    })
    void log.refetch()
    again()
  }

  const closeRight = () => {
    setRight(null)
    onPicking(false)
  }
  const of = right && moulds.find((m) => m.id === right.mouldId)
  return (
    <>
      <header className={classes.logHead}>
        <h2>Log</h2>
        {total > 0 && <ListTools table="log" job={job.id} print={() => void sending(print)} />}
      </header>
      <Refused problem={refused} />
      {waiting.length > 0 && (
        <p className={classes.waits}>
          ▲ {waiting.length === 1 ? '1 pull waits for the server and is' : `${waiting.length} pulls wait for the server and are`} not
          counted yet.
        </p>
      )}
      {log.data && total === 0 && <p className="soft">No pull is logged yet. The first casting is looked at before the rest are poured.</p>}
      {pulls.length > 0 && (
        <table className={classes.log} onKeyDown={gridKeys}>
          <thead>
            <tr>
              <th>Day</th>
              <th>Mould</th>
              <th>A, B</th>
              <th>Castings</th>
              <th>
                <VisuallyHidden>Actions</VisuallyHidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {pulls.map((p) => (
              <tr key={p.id} className={p.struck ? classes.struck : undefined}>
                <td className="num">{day(p.pulled)}</td>
                <td>{p.mouldNumber}</td>
                <td>
                  {typeof p.massA === 'number' && <Qty value={p.massA} kind="mass" />}{' '}
                  {typeof p.massB === 'number' && <Qty value={p.massB} kind="mass" />}
                </td>
                <td>
                  {p.results.map((r) => (
                    <div key={r.cavity} className={r.good ? classes.good : classes.bad}>
                      {r.good ? '✓' : r.second ? '◇' : '◆'} {p.results.length > 1 && r.cavity}{' '}
                      {r.good ? 'good' : r.second ? `second: ${r.defect}` : r.defect}
                      {r.place && ', shown'} {r.note && <span className="soft">{r.note}</span>}{' '}
                      {r.weight !== undefined && <Qty value={r.weight} kind="mass" />}
                    </div>
                  ))}
                  {p.notes && <span className="soft">{p.notes}</span>} {under(p, said) && <span className="soft">{under(p, said)}</span>}{' '}
                  {p.session && (
                    <Link to={`/bench/${p.session}`} aria-label={`The session at the bench of ${day(p.pulled)} with ${p.mouldNumber}`}>
                      at the bench
                    </Link>
                  )}
                  <Photos pull={p} of={`the pull of ${day(p.pulled)} from ${p.mouldNumber}`} again={() => void log.refetch()} />
                  {shown === p.id && <PullHistory pull={p} />}
                </td>
                <td className={classes.acts}>
                  {!p.struck && (
                    <button
                      type="button"
                      className="quiet"
                      onClick={() => setRight(p)}
                      aria-label={`Correct the pull of ${day(p.pulled)} from ${p.mouldNumber}`}
                    >
                      correct
                    </button>
                  )}
                  <button
                    type="button"
                    className="quiet"
                    onClick={() => void strike(p)}
                    aria-label={`${p.struck ? 'Count it again: the pull' : 'Strike the pull'} of ${day(p.pulled)} from ${p.mouldNumber}`}
                  >
                    {p.struck ? 'count it again' : 'strike'}
                  </button>
                  {p.version > 1 && (
                    <button
                      type="button"
                      className="quiet"
                      aria-expanded={shown === p.id}
                      onClick={() => setShown(shown === p.id ? null : p.id)}
                      aria-label={`Corrected: what the pull of ${day(p.pulled)} from ${p.mouldNumber} said before`}
                    >
                      corrected
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Pages of="the log" total={total} skip={skip} page={page} newer="Newer" older="Older" onSkip={setSkip} />
      <Modal opened={right !== null} onClose={closeRight} title="Correct a pull" size="lg">
        {right && of && (
          <PullForm
            moulds={[of]}
            pull={right}
            job={job}
            onPicking={onPicking}
            onDone={() => {
              closeRight()
              void log.refetch()
              again()
            }}
          />
        )}
      </Modal>
    </>
  )
}
