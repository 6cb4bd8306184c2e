import { Button, NativeSelect, SegmentedControl, TextInput } from '@mantine/core'
import { keepPreviousData } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import { api, client, type Job, type Mould } from '../api/client'
import { MeasureInput } from '../parts/MeasureInput'
import { Qty } from '../parts/Num'
import { say, sayProblem } from '../parts/Say'
import { day, today } from '../parts/day'
import { Remaining } from '../places/RackPlace'
import type { StageProps } from './stages'
import classes from './plain.module.css'
import { useDesignIfAny } from './useDesign'

const defects = [
  'void at a high spot',
  'bubbles all over',
  'pinholes',
  'soft or sticky',
  'short fill',
  'heavy flash',
  'step at the seam',
  'warped',
  'swirls or colour',
  'torn detail',
  'stuck',
]

/** How many pulls the log shows at a time. */
const page = 100

/** Pulls: the moulds made for this job and what came out of them. */
export function PullsStage({ job, refresh }: StageProps) {
  const moulds = api.useQuery('get', '/moulds', { params: { query: { job: job.id } } })
  const [skip, setSkip] = useState(0)
  const pulls = api.useQuery(
    'get',
    '/pulls',
    { params: { query: { job: job.id, limit: page, skip } } },
    { placeholderData: keepPreviousData },
  )
  const logged = (moulds.data ?? []).reduce((sum, m) => sum + m.pulls, 0)
  const again = () => {
    void moulds.refetch()
    void pulls.refetch()
    refresh()
  }

  async function strike(id: string) {
    try {
      await client.DELETE('/pulls/{pullId}', { params: { path: { pullId: id } } })
      say('Struck from the log')
    } catch (thrown) {
      sayProblem(thrown)
    }
    again()
  }

  const inUse = (moulds.data ?? []).filter((m) => !m.retired)
  return (
    <main className={classes.page}>
      <section className={classes.column}>
        <h1>
          <span className="num">{job.good}</span> good of <span className="num">{job.order.quantity}</span>
          {job.scrap > 0 && (
            <span className="soft">
              , <span className="num">{job.scrap}</span> scrap
            </span>
          )}
        </h1>
        {inUse.length > 0 ? (
          <PullForm key={inUse.map((m) => m.id).join()} moulds={inUse} onLogged={again} />
        ) : (
          moulds.data && <p>No mould is in use for this job. Enter the one that was poured, then log its pulls.</p>
        )}
        <h2>Moulds for this job</h2>
        {(moulds.data ?? []).map((m) => (
          <p key={m.id}>
            <strong>{m.number}</strong> <span className="soft">{m.rubber}</span>
            <br />
            <span className="num">{m.pulls}</span> pulls, <span className="num">{m.good}</span> good. <Remaining mould={m} />
          </p>
        ))}
        <details open={moulds.data !== undefined && inUse.length === 0}>
          <summary>Enter a mould that was poured</summary>
          <MouldForm job={job} onAdded={again} />
        </details>
      </section>
      <section className={classes.column}>
        <h2>Log</h2>
        {pulls.data?.length === 0 && skip === 0 && (
          <p className="soft">No pull is logged yet. The first casting is looked at before the rest are poured.</p>
        )}
        {pulls.data && pulls.data.length > 0 && (
          <table className={classes.log}>
            <thead>
              <tr>
                <th>Day</th>
                <th>Mould</th>
                <th>A, B</th>
                <th>Castings</th>
                <th aria-label="Strike" />
              </tr>
            </thead>
            <tbody>
              {pulls.data.map((p) => (
                <tr key={p.id}>
                  <td className="num">{day(p.pulled)}</td>
                  <td>{p.mouldNumber}</td>
                  <td>
                    {typeof p.massA === 'number' && <Qty value={p.massA} kind="mass" />}{' '}
                    {typeof p.massB === 'number' && <Qty value={p.massB} kind="mass" />}
                  </td>
                  <td>
                    {p.results.map((r) => (
                      <div key={r.cavity} className={r.good ? classes.good : classes.bad}>
                        {r.good ? '✓' : '◆'} {p.results.length > 1 && r.cavity} {r.good ? 'good' : r.defect}
                      </div>
                    ))}
                    {p.notes && <span className="soft">{p.notes}</span>}
                  </td>
                  <td>
                    <button
                      type="button"
                      className="quiet"
                      onClick={() => void strike(p.id)}
                      aria-label={`Strike the pull of ${day(p.pulled)} from ${p.mouldNumber}`}
                    >
                      strike
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {(skip > 0 || logged > page) && (
          <nav aria-label="Pages of the log" className={classes.pages}>
            <Button variant="default" disabled={skip === 0} onClick={() => setSkip(Math.max(0, skip - page))}>
              Newer
            </Button>
            <span className="num">
              {Math.min(skip + 1, logged)} to {Math.min(skip + page, logged)} of {logged}
            </span>
            <Button variant="default" disabled={skip + page >= logged} onClick={() => setSkip(skip + page)}>
              Older
            </Button>
          </nav>
        )}
      </section>
    </main>
  )
}

function PullForm({ moulds, onLogged }: { moulds: Mould[]; onLogged: () => void }) {
  const [mouldId, setMouldId] = useState(moulds[0].id)
  const mould = moulds.find((m) => m.id === mouldId) ?? moulds[0]
  const [pulled, setPulled] = useState(today())
  const [massA, setMassA] = useState<number | null>(null)
  const [massB, setMassB] = useState<number | null>(null)
  const [notes, setNotes] = useState('')
  const [bad, setBad] = useState<Record<number, string | null>>({})
  const [busy, setBusy] = useState(false)

  async function send(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    try {
      await client.POST('/moulds/{mouldId}/pulls', {
        params: { path: { mouldId: mould.id } },
        body: {
          pulled,
          massA,
          massB,
          notes,
          results: Array.from({ length: mould.cavities }, (_, i) => {
            const defect = bad[i + 1]
            return defect === undefined || defect === null ? { cavity: i + 1, good: true } : { cavity: i + 1, good: false, defect }
          }),
        },
      })
      say('Pull logged')
      setBad({})
      setNotes('')
      onLogged()
    } catch (thrown) {
      sayProblem(thrown)
    }
    setBusy(false)
  }

  return (
    <form className={classes.form} onSubmit={(e) => void send(e)}>
      <h2 className={classes.wide}>Log a pull</h2>
      <NativeSelect
        label="Mould"
        value={mould.id}
        onChange={(e) => setMouldId(e.currentTarget.value)}
        data={moulds.map((m) => ({ value: m.id, label: m.number }))}
      />
      <TextInput label="Day" type="date" value={pulled} max={today()} onChange={(e) => setPulled(e.currentTarget.value)} />
      <MeasureInput label="Weight of A" kind="mass" value={massA} onChange={setMassA} allowEmpty />
      <MeasureInput label="Weight of B" kind="mass" value={massB} onChange={setMassB} allowEmpty />
      {Array.from({ length: mould.cavities }, (_, i) => i + 1).map((cavity) => (
        <div
          key={cavity}
          className={classes.wide}
          role="group"
          aria-label={`Cavity ${cavity}`}
          style={{ display: 'grid', gridTemplateColumns: '80px 160px 1fr', gap: 10, alignItems: 'center' }}
        >
          <span>Cavity {cavity}</span>
          <SegmentedControl
            size="sm"
            aria-label={`Result of cavity ${cavity}`}
            value={bad[cavity] == null ? 'good' : 'scrap'}
            onChange={(v) => setBad({ ...bad, [cavity]: v === 'good' ? null : defects[0] })}
            data={[
              { value: 'good', label: '✓ good' },
              { value: 'scrap', label: '◆ scrap' },
            ]}
          />
          {bad[cavity] != null && (
            <NativeSelect
              aria-label={`Defect of cavity ${cavity}`}
              value={bad[cavity] ?? ''}
              onChange={(e) => setBad({ ...bad, [cavity]: e.currentTarget.value })}
              data={defects}
            />
          )}
        </div>
      ))}
      <TextInput className={classes.wide} label="Notes" value={notes} onChange={(e) => setNotes(e.currentTarget.value)} />
      <div className={classes.wide}>
        <Button type="submit" loading={busy}>
          Log the pull
        </Button>
      </div>
    </form>
  )
}

function MouldForm({ job, onAdded }: { job: Job; onAdded: () => void }) {
  const materials = api.useQuery('get', '/materials').data ?? []
  const rubbers = materials.filter((m) => m.kind === 'rubber').map((m) => m.name)
  const design = useDesignIfAny()?.design
  const planned = materials.find((m) => m.id === design?.rubber)?.name ?? rubbers[0] ?? ''
  const [number, setNumber] = useState('')
  const [rubber, setRubber] = useState('')
  const [poured, setPoured] = useState(today())
  const [cavities, setCavities] = useState(String(design?.gang?.length || 1))
  const [busy, setBusy] = useState(false)

  async function send(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    try {
      await client.POST('/jobs/{jobId}/moulds', {
        params: { path: { jobId: job.id } },
        body: { number, rubber: rubber || planned, poured, cavities: Number(cavities) || 1 },
      })
      say(`Mould ${number} is on the rack`)
      setNumber('')
      onAdded()
    } catch (thrown) {
      sayProblem(thrown)
    }
    setBusy(false)
  }

  return (
    <form className={classes.form} onSubmit={(e) => void send(e)}>
      <TextInput
        label="Number"
        description="as it is marked on the block"
        value={number}
        onChange={(e) => setNumber(e.currentTarget.value)}
      />
      <TextInput label="Cavities" inputMode="numeric" value={cavities} onChange={(e) => setCavities(e.currentTarget.value)} />
      <NativeSelect label="Rubber" value={rubber || planned} onChange={(e) => setRubber(e.currentTarget.value)} data={rubbers} />
      <TextInput label="Poured on" type="date" value={poured} max={today()} onChange={(e) => setPoured(e.currentTarget.value)} />
      <div className={classes.wide}>
        <Button type="submit" variant="default" loading={busy}>
          Put it on the rack
        </Button>
      </div>
    </form>
  )
}
