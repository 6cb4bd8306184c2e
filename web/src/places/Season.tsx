import { Button, Checkbox, FileButton, Modal, Progress, Textarea } from '@mantine/core'
import { useRef, useState } from 'react'
import { asProblem, client, type LogPlan, type Mould, type Problem } from '../api/client'
import { Refused } from '../parts/Refused'
import { PaperGrid } from './PaperGrid'
import classes from './places.module.css'

const word = { adds: 'is added', known: 'is in the log already', refused: 'is not taken' } as const

const pulls = (n: number) => `${n} ${n === 1 ? 'pull' : 'pulls'}`

/** Takes a season of pulls out of a spreadsheet into the log: what becomes of every line is said before anything is done. */
export function Season({ moulds, close, onDone }: { moulds: Mould[]; close: () => void; onDone: () => void }) {
  const [plan, setPlan] = useState<LogPlan | null>(null)
  const [text, setText] = useState('')
  const [dayFirst, setDayFirst] = useState(true)
  const [refused, setRefused] = useState<Problem | null>(null)
  const [busy, setBusy] = useState(false)
  const [done, setDone] = useState<number | null>(null)
  const [added, setAdded] = useState<number | null>(null)
  const cancel = useRef<AbortController | null>(null)
  const data = useRef<Blob | null>(null)

  async function look(what: Blob, first = dayFirst) {
    data.current = what
    setBusy(true)
    setRefused(null)
    setPlan(null)
    setAdded(null)
    try {
      const answer = await fetch(`/api/log/preview?dayFirst=${first}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: what,
      })
      const found: unknown = await answer.json()
      if (answer.ok) setPlan(found as LogPlan)
      else setRefused(asProblem(found))
    } catch (thrown) {
      setRefused(asProblem(thrown))
    }
    setBusy(false)
  }

  async function take() {
    if (!plan) return
    const path = { params: { path: { importId: plan.id } } }
    cancel.current = new AbortController()
    setBusy(true)
    setDone(0)
    const timer = window.setInterval(() => {
      client
        .GET('/log/imports/{importId}', path)
        .then(({ data: far }) => far && setDone(far.done))
        .catch(() => undefined)
    }, 300)
    try {
      const { data: taken } = await client.POST('/log/imports/{importId}', { ...path, signal: cancel.current.signal })
      if (taken) setAdded(taken.added)
      onDone()
    } catch (thrown) {
      if (!cancel.current.signal.aborted) setRefused(asProblem(thrown))
    }
    window.clearInterval(timer)
    setDone(null)
    setBusy(false)
  }

  return (
    <Modal opened onClose={close} title="Bring in a season of pulls" size="xl">
      <p className={classes.why}>
        A CSV from a spreadsheet, or the JSON that was taken out here. Its header names the columns: day, mould, cavity, casting (good or
        scrap), defect, and as you have them A, B and notes.
      </p>
      <div className={classes.form}>
        <FileButton onChange={(file) => file && void look(file)} accept=".csv,.txt,.tsv,.json">
          {(props) => (
            <Button {...props} disabled={busy}>
              Choose a file
            </Button>
          )}
        </FileButton>
        <Checkbox
          label="3/4/2026 is the third of April"
          checked={dayFirst}
          onChange={(e) => {
            setDayFirst(e.currentTarget.checked)
            if (data.current) void look(data.current, e.currentTarget.checked)
          }}
        />
      </div>
      <Textarea
        label="Or paste the cells of a spreadsheet, with their header"
        autosize
        minRows={2}
        maxRows={6}
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      <Button variant="default" mt="xs" disabled={busy || text.trim() === ''} onClick={() => void look(new Blob([text]))}>
        Look at what was pasted
      </Button>
      <details className={classes.more}>
        <summary>Or write them down from paper</summary>
        <PaperGrid moulds={moulds} look={(text) => void look(new Blob([text]))} taken={added !== null} />
      </details>
      <Refused problem={refused} />
      {plan && added === null && (
        <>
          <p role="status">
            {plan.says.join(' ')} {plan.pulls} pulls with {plan.castings} castings: <strong>{plan.adds} are added</strong>, {plan.known} are
            in the log already, {plan.refused} are not taken.
          </p>
          <div className={classes.scroll}>
            <table className={classes.table}>
              <thead>
                <tr>
                  <th>Line</th>
                  <th>Day</th>
                  <th>Mould</th>
                  <th>Castings</th>
                  <th>What becomes of it</th>
                </tr>
              </thead>
              <tbody>
                {plan.steps.map((s) => (
                  <tr key={`${s.line} ${s.mould} ${s.day}`}>
                    <td className="num">{s.line}</td>
                    <td className="num">{s.day}</td>
                    <td>{s.mould}</td>
                    <td className="num">{s.castings}</td>
                    <td>
                      {s.does === 'refused' ? '◆ ' : ''}
                      {word[s.does]}
                      {s.why && `: ${s.why}`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {done !== null && <Progress value={plan.adds ? (100 * done) / plan.adds : 100} aria-label="Taken so far" />}
          <div className={classes.form}>
            <Button disabled={busy || plan.adds === 0} onClick={() => void take()}>
              Take {pulls(plan.adds)} into the log
            </Button>
            {done !== null && (
              <Button variant="default" onClick={() => cancel.current?.abort()}>
                Cancel
              </Button>
            )}
          </div>
        </>
      )}
      {added !== null && (
        <p role="status">
          {pulls(added)} {added === 1 ? 'was' : 'were'} added.
        </p>
      )}
    </Modal>
  )
}
