import { Button, Modal } from '@mantine/core'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, client, type Order } from '../api/client'
import { day } from '../parts/day'
import { Fault } from '../parts/Fault'
import { sayProblem } from '../parts/Say'
import { OrderForm } from './OrderForm'
import classes from './places.module.css'

/** Jobs: what the shop has promised, the most urgent first. */
export function JobsPlace() {
  const jobs = api.useQuery('get', '/jobs')
  const [adding, setAdding] = useState(false)
  const navigate = useNavigate()

  async function add(order: Order) {
    try {
      const { data } = await client.POST('/jobs', { body: order })
      if (data) void navigate(`/jobs/${data.id}/master`)
    } catch (thrown) {
      sayProblem(thrown)
    }
  }

  if (jobs.error) return <Fault thrown={jobs.error} retry={() => void jobs.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Jobs</h1>
        <Button onClick={() => setAdding(true)}>New job</Button>
      </header>
      {jobs.data?.length === 0 && (
        <p className={classes.empty}>
          No job is on the list. Start with the order: press <em>New job</em>, name the part, say how many and by when.
        </p>
      )}
      <ul className={classes.jobs}>
        {(jobs.data ?? []).map((j) => {
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
                <span className={classes.due}>{j.order.due ? <>due {day(j.order.due)}</> : <span className="soft">no date</span>}</span>
                <span className={classes.next}>{j.next.what}</span>
              </Link>
            </li>
          )
        })}
      </ul>
      <Modal opened={adding} onClose={() => setAdding(false)} title="New job">
        <OrderForm submit="Take it on" onSubmit={(o) => void add(o)} />
      </Modal>
    </main>
  )
}
