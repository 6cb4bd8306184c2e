import { Modal } from '@mantine/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type Mould } from '../api/client'
import { Remaining } from '../places/RackPlace'
import { MouldHistory } from './pulls/History'
import { Log } from './pulls/Log'
import { CorrectedMould, NewMould } from './pulls/MouldForm'
import { PullForm } from './pulls/PullForm'
import { Taught } from './pulls/Taught'
import type { StageProps } from './stages'
import classes from './plain.module.css'
import { Words } from '../parts/Words'

/** Pulls: the moulds made for this job and what came out of them. */
export function PullsStage({ job, refresh }: StageProps) {
  const moulds = api.useQuery('get', '/moulds', { params: { query: { job: job.id } } })
  const log = api.useQuery('get', '/pulls', { params: { query: { job: job.id, limit: 100, skip: 0 } } })
  const taught = api.useQuery('get', '/jobs/{jobId}/taught', { params: { path: { jobId: job.id } } })
  const [right, setRight] = useState<Mould | null>(null)
  const [picking, setPicking] = useState(false)
  const all = moulds.data?.moulds ?? []
  const again = () => {
    void moulds.refetch()
    void log.refetch()
    void taught.refetch()
    refresh()
  }
  const inUse = all.filter((m) => !m.retired)
  return (
    <main className={classes.page}>
      <section className={classes.column}>
        <h1>
          <span className="num">{job.good}</span> good of <span className="num">{job.order.quantity}</span>
          {job.seconds !== undefined && (
            <span className="soft">
              , <span className="num">{job.seconds}</span> {job.seconds === 1 ? 'second' : 'seconds'}
            </span>
          )}
          {job.scrap > 0 && (
            <span className="soft">
              , <span className="num">{job.scrap}</span> scrap
            </span>
          )}
        </h1>
        {inUse.length > 0 ? (
          <PullForm moulds={inUse} job={job} onPicking={setPicking} onDone={again} />
        ) : (
          moulds.data && <p>No mould is in use for this job. Enter the one that was poured, then log its pulls.</p>
        )}
        <h2>Moulds for this job</h2>
        {all.map((m) => (
          <div key={m.id} className={classes.mould}>
            <p>
              <Link to={`/rack/${m.id}`}>
                <strong>{m.number}</strong>
              </Link>{' '}
              <span className="soft">{m.rubber}</span>
              <br />
              <span className="num">{m.pulls}</span> {m.pulls === 1 ? 'pull' : 'pulls'}, <span className="num">{m.good}</span> good;{' '}
              <Remaining mould={m} />
            </p>
            <button type="button" className="quiet" onClick={() => setRight(m)} aria-label={`Correct mould ${m.number}`}>
              correct
            </button>
          </div>
        ))}
        <details open={moulds.data !== undefined && inUse.length === 0}>
          <summary>Enter a mould that was poured</summary>
          <NewMould job={job} onDone={again} />
        </details>
        <Words of={['pull', 'strike', 'rack', 'demould', 'flash']} />
      </section>
      <section className={classes.column}>
        {taught.data && <Taught job={job} taught={taught.data} picking={picking} />}
        <Log job={job} moulds={all} again={again} onPicking={setPicking} />
      </section>
      <Modal opened={right !== null} onClose={() => setRight(null)} title={`Correct mould ${right?.number ?? ''}`}>
        {right && (
          <>
            <CorrectedMould
              mould={right}
              onDone={() => {
                setRight(null)
                again()
              }}
            />
            {right.version > 1 && <MouldHistory mould={right} />}
          </>
        )}
      </Modal>
    </main>
  )
}
