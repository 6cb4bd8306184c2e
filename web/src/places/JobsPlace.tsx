import { Button, Modal } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, type Job, type Order } from '../api/client'
import { changes, make } from '../kept/changes'
import { Fault } from '../parts/Fault'
import { ListTools, More, says } from '../parts/List'
import { useSome } from '../parts/useSome'
import { day, moment, today } from '../parts/day'
import { sayOutcome } from '../parts/Say'
import { OrderForm } from './OrderForm'
import classes from './places.module.css'
import { Refused } from '../parts/Refused'
import { useSending } from '../parts/useSending'

/** More jobs than are seen at a glance. */
const manyJobs = 12

/** Jobs: what the shop has promised, the most urgent first. */
export function JobsPlace() {
  useDocumentTitle('Jobs · Bathyform')
  const jobs = api.useQuery('get', '/jobs')
  const [adding, setAdding] = useState(false)
  const [text, setText] = useState('')
  const all = jobs.data ?? []
  const found = all.filter((j) => says(text, j.order.name, j.order.set, j.order.notes))
  const { some, left, showMore } = useSome(found)
  const navigate = useNavigate()
  const [address, setAddress] = useSearchParams()
  const shown = adding || address.has('new') // the palette opens it
  const close = () => {
    setAdding(false)
    if (address.has('new')) setAddress({}, { replace: true })
  }

  async function add(order: Order) {
    const outcome = await make(changes.addJob(order))
    close()
    if (outcome.sent) void navigate(`/jobs/${(outcome.data as Job).id}/master`)
    else sayOutcome(outcome, '')
  }

  if (jobs.error && !jobs.data) return <Fault thrown={jobs.error} retry={() => void jobs.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Jobs</h1>
        <ListTools table="jobs" find={all.length > manyJobs ? { text, set: setText, among: 'jobs' } : undefined} />
        <Button onClick={() => setAdding(true)}>New job</Button>
      </header>
      {jobs.data?.length === 0 && (
        <p className={classes.empty}>
          No job is on the list. Start with the order: press <em>New job</em>, name the part, say how many and by when.
        </p>
      )}
      <ul className={classes.jobs}>
        {some.map((j) => {
          const done = Math.min(1, j.good / j.order.quantity)
          return (
            <li key={j.id}>
              <Link to={`/jobs/${j.id}/${j.next.stage}`} className={classes.job}>
                <span className={classes.name}>
                  {j.order.name}
                  {j.order.set && <small className="soft"> {j.order.set}</small>}
                </span>
                <span className={classes.count}>
                  <span className="num">{j.good}</span> <span className="soft">of</span> <span className="num">{j.order.quantity}</span>
                </span>
                <svg
                  className={classes.gauge}
                  viewBox="0 0 100 12"
                  preserveAspectRatio="none"
                  role="img"
                  aria-label={`${Math.round(done * 100)} per cent done`}
                >
                  <rect x="0" y="3" width="100" height="6" fill="var(--rubber)" />
                  <rect x="0" y="3" width={done * 100} height="6" fill="var(--resin-4)" />
                </svg>
                <Due job={j} />
                <span className={classes.next}>{j.next.what}</span>
              </Link>
            </li>
          )
        })}
      </ul>
      {all.length > 0 && found.length === 0 && <p className={classes.empty}>No job says all of that.</p>}
      <More left={left} onMore={showMore} />
      <Modal opened={shown} onClose={close} title="New job">
        <OrderForm name="new job" submit="Take it on" onSubmit={add} />
      </Modal>
      <Bin />
    </main>
  )
}

/** By when a job is promised; marked where that day has gone by. */
function Due({ job: { order, good } }: { job: Job }) {
  if (!order.due) return <span className={`${classes.due} soft`}>no date</span>
  const late = order.due < today() && good < order.quantity
  return (
    <span className={`${classes.due} ${late ? classes.late : ''}`}>
      {late ? '◆ overdue since' : 'due'} {day(order.due)}
    </span>
  )
}

/** Jobs that were taken off the list, each with its way back. */
function Bin() {
  const bin = api.useQuery('get', '/bin')
  const { refused, sending } = useSending()
  const queries = useQueryClient()
  if (!bin.data?.length) return null

  async function restore(job: { id: string; name: string }) {
    await sending(async () => sayOutcome(await make(changes.unbinJob(job)), `${job.name} is on the list again`))
    void queries.invalidateQueries()
  }

  return (
    <details className={classes.bin}>
      <summary>{bin.data.length === 1 ? '1 job is in the bin' : `${bin.data.length} jobs are in the bin`}</summary>
      <Refused problem={refused} />
      <ul>
        {bin.data.map((b) => (
          <li key={b.id}>
            <span>
              <strong>{b.name}</strong>{' '}
              <span className="soft">
                put there {moment(new Date(b.binned))} · {b.good} good {b.good === 1 ? 'casting' : 'castings'} logged
              </span>
            </span>
            <Button size="xs" variant="default" aria-label={`Put ${b.name} back on the list`} onClick={() => void restore(b)}>
              Put it back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  )
}
