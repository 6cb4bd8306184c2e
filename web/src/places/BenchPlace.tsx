import { Button, Modal, NumberInput, TextInput } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, client, type BenchToday, type Due, type NewSession } from '../api/client'
import bench from '../bench/bench.module.css'
import { clock, useTick } from '../bench/useTick'
import { Fault } from '../parts/Fault'
import { moment } from '../parts/day'
import { LotInput } from '../parts/LotInput'
import { Refused } from '../parts/Refused'
import { useTemperature } from '../parts/useShop'
import { warmth } from '../parts/units'
import { useAir } from './useAir'
import { useSending } from '../parts/useSending'
import classes from './places.module.css'

const seconds = () => Date.now() / 1000

/** What is due now across jobs, the sessions that are open, and the lessons. */
export function BenchPlace() {
  useDocumentTitle('Bench · Bathyform')
  const today = api.useQuery('get', '/bench', {}, { refetchInterval: 5000 })
  const [begin, setBegin] = useState<Due | null>(null)
  const navigate = useNavigate()
  const { busy, refused, sending } = useSending()
  const now = useTick(seconds)
  const { due = [], sessions = [], over = [], lessons = [] } = today.data ?? {}

  const start = (body: NewSession) =>
    sending(async () => {
      const { data } = await client.POST('/sessions', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body })
      if (data) void navigate(`/bench/${data.id}`)
    })

  if (today.error && !today.data) return <Fault thrown={today.error} retry={() => void today.refetch()} />
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>Today</h1>
      </header>
      <Refused problem={refused} />
      {today.data && due.length === 0 && (
        <p className={classes.empty}>
          Nothing is due. A mould is poured from here once a job has a rubber, and castings are once a job has a resin and a mould on the
          rack. To learn the bench, take a lesson below: it touches nothing.
        </p>
      )}
      <ul className={bench.due} aria-label="Due now">
        {due.map((d, i) => (
          <li key={i}>
            <span>
              <strong>{d.what}</strong>
              <span className="soft"> {d.why}</span>
              {d.at !== undefined && <span className="num"> {d.at > now ? `in ${clock(d.at - now)}` : 'now'}</span>}
            </span>
            {d.session ? (
              <Button component={Link} to={`/bench/${d.session}`} size="lg">
                Go on
              </Button>
            ) : (
              <Button size="lg" variant="default" onClick={() => setBegin(d)}>
                {d.kind === 'run' ? 'Cast' : 'Pour it'}
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Sessions name="Open sessions" all={sessions} now={now} />
      <h2 className={classes.section}>Training</h2>
      <p className={classes.why}>On stand-ins, and scored afterwards: neither stock nor log nor mould hears of it.</p>
      <ul className={bench.due} aria-label="Training">
        {lessons.map((l) => (
          <li key={l.key}>
            <span>
              <strong>{l.name}</strong> <span className="soft">{l.what}</span>
            </span>
            <Button size="lg" variant="default" disabled={busy} onClick={() => void start({ kind: 'casting', lesson: l.key })}>
              Begin {l.name.replace(/^A /, 'a ')}
            </Button>
          </li>
        ))}
      </ul>
      <Sessions name="Over" all={over} now={now} />
      {begin && <Begin due={begin} busy={busy} close={() => setBegin(null)} start={(body) => void start(body)} refused={refused} />}
    </main>
  )
}

function Sessions({ name, all, now }: { name: string; all: BenchToday['sessions']; now: number }) {
  if (all.length === 0) return null
  return (
    <>
      <h2 className={classes.section}>{name}</h2>
      <ul className={bench.due} aria-label={name}>
        {all.map((s) => (
          <li key={s.id}>
            <span>
              <strong>
                {s.lesson ? 'Training: ' : ''}
                {s.job}
              </strong>{' '}
              <span className="soft">
                {s.over ? moment(new Date(s.begun)) : `${s.step} · ${s.at} of ${s.of}`}
                {s.until !== undefined && s.until > now && ` · ${clock(s.until - now)}`}
              </span>
            </span>
            <Button component={Link} to={`/bench/${s.id}`} size="lg" variant="default">
              {s.over ? 'Look' : 'Open'}
            </Button>
          </li>
        ))}
      </ul>
    </>
  )
}

interface BeginProps {
  due: Due
  busy: boolean
  close: () => void
  start: (body: NewSession) => void
  refused: Parameters<typeof Refused>[0]['problem']
}

/** Before a session: which moulds, how many pots, and what the air is like. */
function Begin({ due, busy, close, start, refused }: BeginProps) {
  const moulds = due.moulds ?? []
  const [chosen, setChosen] = useState<string[]>(moulds.map((m) => m.id))
  const [numbers, setNumbers] = useState(due.number ?? '')
  const [pots, setPots] = useState<number | string>(1)
  const [celsius, setCelsius] = useState<number | string>('')
  const degrees = useTemperature()
  const [humidity, setHumidity] = useState<number | string>('')
  const [lot, setLot] = useState('')
  const air = useAir()
  const given = (v: number | string) => (v === '' ? undefined : Number(v))
  const casting = due.kind === 'run'
  const jobId = due.job ?? ''
  const design = api.useQuery('get', '/jobs/{jobId}/design', { params: { path: { jobId } } }, { enabled: jobId !== '' }).data?.design
  return (
    <Modal opened onClose={close} title={due.what} size="lg">
      {casting ? (
        <>
          <p>Which moulds? One that was never cast in is proved by one casting before the others are poured.</p>
          <div className={bench.wrong} role="group" aria-label="Moulds">
            {moulds.map((m) => (
              <button
                key={m.id}
                type="button"
                aria-pressed={chosen.includes(m.id)}
                onClick={() => setChosen((now) => (now.includes(m.id) ? now.filter((x) => x !== m.id) : [...now, m.id]))}
              >
                {m.number} · {m.pulls === 0 ? 'new' : `${m.pulls} pulls`}
              </button>
            ))}
          </div>
        </>
      ) : (
        <TextInput
          size="lg"
          label="Numbers of the moulds"
          description="one, or several with commas between"
          value={numbers}
          onChange={(e) => setNumbers(e.currentTarget.value)}
        />
      )}
      <div className={bench.three}>
        {casting && <NumberInput hideControls size="lg" label="Pots" min={1} max={20} value={pots} onChange={setPots} />}
        <NumberInput
          hideControls
          size="lg"
          label={`In the shop, ${degrees}`}
          placeholder={air ? warmth.shown(air.celsius, degrees).toFixed(0) : ''}
          value={celsius}
          onChange={setCelsius}
        />
        <NumberInput
          hideControls
          size="lg"
          label="Humidity, %"
          placeholder={air ? air.humidity.toFixed(0) : ''}
          value={humidity}
          onChange={setHumidity}
        />
      </div>
      <LotInput
        size="lg"
        label="Lot of what is mixed"
        material={(casting ? design?.resin : design?.rubber) ?? undefined}
        value={lot}
        onChange={setLot}
      />
      <Refused problem={refused} />
      <Button
        size="xl"
        fullWidth
        disabled={busy || (casting ? chosen.length === 0 : numbers.trim() === '')}
        onClick={() =>
          start({
            kind: casting ? 'casting' : 'rubber',
            job: due.job,
            moulds: casting ? chosen : undefined,
            numbers: casting ? undefined : numbers.split(',').map((n) => n.trim()),
            pots: casting ? given(pots) : undefined,
            celsius: celsius === '' ? air?.celsius : warmth.kept(Number(celsius), degrees),
            humidity: given(humidity) ?? air?.humidity,
            lot: lot.trim() || undefined,
          })
        }
      >
        {busy ? 'Planning the steps…' : 'Begin'}
      </Button>
    </Modal>
  )
}
