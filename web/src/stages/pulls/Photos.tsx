import { FileButton, Menu, Modal } from '@mantine/core'
import { useState } from 'react'
import { asProblem, Problem, type Photo, type Pull } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { reach } from '../../kept/reach'
import { Refused } from '../../parts/Refused'
import { sayOutcome, sayProblem } from '../../parts/Say'
import classes from './photos.module.css'

/** What the server takes, so that nobody waits for a file to arrive that is not. */
const mostBytes = 25 * 1024 * 1024

/** A picture on its way, with the key under which it is taken once. */
interface Sending {
  file: File
  key: string
  /** That it is of; 0 for the whole pull. */
  cavity: number
}

async function sendOne(pullId: string, { file, key, cavity }: Sending) {
  if (file.size > mostBytes) throw new Problem(`${file.name} is too large`, 'A picture has up to 25 MB: take it smaller.', 413)
  let answer: Response
  try {
    answer = await fetch(`/api/pulls/${pullId}/photos${cavity > 0 ? `?cavity=${cavity}` : ''}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream', 'Idempotency-Key': key },
      body: file,
    })
  } catch {
    reach.failed()
    throw new Problem('The connection was lost on the way', 'The picture is still here: send it again when the server answers.', 0)
  }
  reach.answered()
  if (!answer.ok) throw asProblem(await answer.json())
}

/** The pictures of a pull, small; each opens large, and more can be added. */
export function Photos({ pull, of, again }: { pull: Pull; of: string; again: () => void }) {
  const [shown, setShown] = useState<Photo | null>(null)
  const [gone, setGone] = useState<Photo | null>(null)
  const [busy, setBusy] = useState(false)
  const [cavity, setCavity] = useState(0)
  const [unsent, setUnsent] = useState<Sending[]>([])
  const [lost, setLost] = useState<Problem | null>(null)
  const photos = pull.photos ?? []

  /** Those that a lost connection kept back stay here, to be sent again under their keys: each is taken once. */
  async function send(all: Sending[]) {
    setBusy(true)
    setLost(null)
    let at = 0
    try {
      for (; at < all.length; at++) await sendOne(pull.id, all[at])
      setUnsent([])
    } catch (thrown) {
      const problem = asProblem(thrown)
      const back = problem.status === 0 || problem.status >= 500
      setUnsent(all.slice(back ? at : at + 1))
      if (back) setLost(problem)
      else sayProblem(problem)
    }
    setBusy(false)
    again()
  }

  async function strike(photo: Photo, away: boolean) {
    setShown(null)
    try {
      const outcome = await make(away ? changes.strikePhoto(photo.id) : changes.unstrikePhoto(photo.id))
      sayOutcome(outcome, away ? 'The picture is away' : 'The picture is back')
      setGone(away ? photo : null)
    } catch (thrown) {
      sayProblem(thrown)
    }
    again()
  }

  return (
    <div className={classes.photos}>
      {photos.map((p, i) => (
        <button
          key={p.id}
          type="button"
          className={classes.small}
          onClick={() => setShown(p)}
          aria-label={`Picture ${i + 1} of ${named(p, of)}`}
        >
          <img src={`/api/photos/${p.id}?small=true`} alt="" loading="lazy" width={p.wide} height={p.tall} />
        </button>
      ))}
      {!pull.struck && (
        <FileButton
          onChange={(files) => void send([...unsent, ...files.map((file) => ({ file, key: crypto.randomUUID(), cavity }))])}
          accept="image/jpeg,image/png,image/webp"
          multiple
        >
          {({ onClick: choose }) =>
            pull.results.length > 1 ? (
              <Menu>
                <Menu.Target>
                  <button type="button" className="quiet" disabled={busy} aria-label={`add a picture to ${of}`}>
                    {busy ? 'one moment…' : 'add a picture'}
                  </button>
                </Menu.Target>
                <Menu.Dropdown>
                  {[0, ...pull.results.map((r) => r.cavity)].map((n) => (
                    <Menu.Item
                      key={n}
                      onClick={() => {
                        setCavity(n)
                        choose()
                      }}
                    >
                      {n === 0 ? 'Of all castings' : `Of cavity ${n}`}
                    </Menu.Item>
                  ))}
                </Menu.Dropdown>
              </Menu>
            ) : (
              <button type="button" className="quiet" onClick={choose} disabled={busy} aria-label={`add a picture to ${of}`}>
                {busy ? 'one moment…' : 'add a picture'}
              </button>
            )
          }
        </FileButton>
      )}
      <Refused problem={lost} />
      {unsent.length > 0 && (
        <button type="button" className="quiet" disabled={busy} onClick={() => void send(unsent)}>
          {unsent.length === 1 ? `send ${unsent[0].file.name} again` : `send ${unsent.length} pictures again`}
        </button>
      )}
      {gone && (
        <button type="button" className="quiet" onClick={() => void strike(gone, false)}>
          bring the picture back
        </button>
      )}
      <Modal opened={shown !== null} onClose={() => setShown(null)} title={shown ? `Picture of ${named(shown, of)}` : ''} size="xl">
        {shown && (
          <>
            <img
              className={classes.large}
              src={`/api/photos/${shown.id}`}
              alt={`Of ${named(shown, of)}`}
              width={shown.wide}
              height={shown.tall}
            />
            <button type="button" className="quiet" onClick={() => void strike(shown, true)}>
              take it away
            </button>
          </>
        )}
      </Modal>
    </div>
  )
}

/** What a picture is of. */
const named = (p: Photo, of: string) => (p.cavity ? `cavity ${p.cavity}, ${of}` : of)
