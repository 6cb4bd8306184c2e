import { Button, Modal } from '@mantine/core'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, type Job, type Order } from '../api/client'
import { changes, make } from '../kept/changes'
import { MeasureInput } from '../parts/MeasureInput'
import { sayOutcome } from '../parts/Say'
import { OrderForm } from '../places/OrderForm'
import type { StageProps } from './stages'
import classes from './plain.module.css'
import { Refused } from '../parts/Refused'
import { useSending } from '../parts/useSending'

/** Order: what is wanted, how many, and when. */
export function OrderStage({ job, refresh }: StageProps) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [asking, setAsking] = useState(false)
  const { refused, sending } = useSending()

  async function keep(order: Order) {
    try {
      sayOutcome(await make(changes.keepOrder(job, order)), 'Order kept')
    } finally {
      refresh()
    }
  }

  async function remove() {
    await sending(async () => {
      const outcome = await make(changes.binJob({ id: job.id, name: job.order.name }))
      sayOutcome(outcome, `${job.order.name} is in the bin`, 'Under the list of jobs it can be put back.')
      await navigate('/') // first away, so that nobody asks for the job again
      void queries.invalidateQueries({ queryKey: ['get', '/jobs'] })
      void queries.invalidateQueries({ queryKey: ['get', '/bin'] })
    })
  }

  return (
    <main className={classes.page}>
      <section className={classes.column}>
        <h1>{job.order.name}</h1>
        <OrderForm key={job.id} name={`order ${job.id}`} order={job.order} submit="Keep" onSubmit={keep} />
      </section>
      <section className={classes.column}>
        <h2>Next</h2>
        <p>{job.next.what}</p>
        <Button onClick={() => void navigate(`/jobs/${job.id}/${job.next.stage}`)}>Go there</Button>
        <SetOf job={job} />
        <h2>Bin</h2>
        <p className="soft">Takes the job off the list. Moulds made for it keep their place and their log, and it can be put back.</p>
        <Button variant="default" onClick={() => setAsking(true)}>
          Put it into the bin…
        </Button>
      </section>
      <Modal opened={asking} onClose={() => setAsking(false)} title={`${job.order.name} into the bin?`}>
        <p>
          {job.good} good {job.good === 1 ? 'casting is' : 'castings are'} logged for it. The job goes off the list; under the list it can
          be put back.
        </p>
        <Refused problem={refused} />
        <div className={classes.buttons}>
          <Button variant="default" onClick={() => setAsking(false)}>
            Leave it
          </Button>
          <Button color="var(--stop)" c="var(--paper)" onClick={() => void remove()}>
            Into the bin
          </Button>
        </div>
      </Modal>
    </main>
  )
}

/** The set that the part belongs to: several masters for one order. */
function SetOf({ job }: { job: Job }) {
  const navigate = useNavigate()
  const [adding, setAdding] = useState(false)
  const [sets, setSets] = useState(1)
  const { busy, refused, sending } = useSending()
  const set = api.useQuery('get', '/jobs/{jobId}/set', { params: { path: { jobId: job.id } } }).data
  if (!set?.name) return null

  async function add(order: Order) {
    const outcome = await make(changes.addJob(order))
    setAdding(false)
    if (outcome.sent) void navigate(`/jobs/${(outcome.data as Job).id}/master`)
    else sayOutcome(outcome, '')
  }

  async function together() {
    await sending(async () => {
      const outcome = await make(changes.mouldSet(job, sets))
      if (outcome.sent) await navigate(`/jobs/${(outcome.data as Job).id}/gates`)
      else sayOutcome(outcome, '')
    })
  }

  return (
    <>
      <h2>The set · {set.name}</h2>
      <p>
        {set.complete === 0 ? 'No set is complete yet.' : set.complete === 1 ? '1 set is complete.' : `${set.complete} sets are complete.`}
      </p>
      <ul className={classes.set}>
        {set.members.map((m) => (
          <li key={m.id}>
            {m.id === job.id ? <strong>{m.name}</strong> : <Link to={`/jobs/${m.id}/order`}>{m.name}</Link>}
            <span className="soft">
              {' '}
              × {m.perSet} · {m.good} of {m.ordered} good{m.resin ? ` · ${m.resin}` : ''}
              {m.short ? ' · the next set waits for it' : ''}
            </span>
          </li>
        ))}
      </ul>
      {set.notes.map((n) => (
        <p key={n} className="soft">
          ▲ {n}
        </p>
      ))}
      <div className={classes.buttons}>
        <Button variant="default" onClick={() => setAdding(true)}>
          Add a master to the set
        </Button>
      </div>
      {set.members.length > 1 && job.master?.kind === 'mesh' && (
        <>
          <p className="soft">Parts of a set can share a mould, in the proportions of the set: they become a job of their own.</p>
          <div className={classes.form}>
            <MeasureInput compact label="Sets in a mould" kind="number" value={sets} onChange={(v) => v !== null && setSets(v)} />
            <Button variant="default" loading={busy} onClick={() => void together()}>
              Lay the set in one mould
            </Button>
          </div>
        </>
      )}
      <Refused problem={refused} />
      <Modal opened={adding} onClose={() => setAdding(false)} title={`Another part of the ${set.name}`}>
        <OrderForm
          name={`new part of ${set.name}`}
          order={{ name: '', quantity: job.order.quantity, due: job.order.due, notes: '', set: set.name, perSet: 1 }}
          submit="Take it on"
          onSubmit={add}
        />
      </Modal>
    </>
  )
}
