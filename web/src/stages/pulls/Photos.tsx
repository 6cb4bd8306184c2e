import { FileButton, Modal } from '@mantine/core'
import { useState } from 'react'
import { asProblem, Problem, type Photo, type Pull } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { sayOutcome, sayProblem } from '../../parts/Say'
import classes from './photos.module.css'

/** What the server takes, so that nobody waits for a file to arrive that is not. */
const mostBytes = 25 * 1024 * 1024

/** The pictures of a pull, small; each opens large, and more can be added. */
export function Photos({ pull, of, again }: { pull: Pull; of: string; again: () => void }) {
  const [shown, setShown] = useState<Photo | null>(null)
  const [gone, setGone] = useState<Photo | null>(null)
  const [busy, setBusy] = useState(false)
  const photos = pull.photos ?? []

  async function add(files: File[]) {
    setBusy(true)
    try {
      for (const file of files) {
        if (file.size > mostBytes) throw new Problem(`${file.name} is too large`, 'A picture has up to 25 MB: take it smaller.', 413)
        const answer = await fetch(`/api/pulls/${pull.id}/photos`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/octet-stream', 'Idempotency-Key': crypto.randomUUID() },
          body: file,
        })
        if (!answer.ok) throw asProblem(await answer.json())
      }
    } catch (thrown) {
      sayProblem(thrown)
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
        <button key={p.id} type="button" className={classes.small} onClick={() => setShown(p)} aria-label={`Picture ${i + 1} of ${of}`}>
          <img src={`/api/photos/${p.id}?small=true`} alt="" loading="lazy" width={p.wide} height={p.tall} />
        </button>
      ))}
      {!pull.struck && (
        <FileButton onChange={(files) => void add(files)} accept="image/jpeg,image/png,image/webp" multiple>
          {(props) => (
            <button type="button" className="quiet" {...props} disabled={busy} aria-label={`Add a picture to ${of}`}>
              {busy ? 'one moment…' : 'add a picture'}
            </button>
          )}
        </FileButton>
      )}
      {gone && (
        <button type="button" className="quiet" onClick={() => void strike(gone, false)}>
          bring the picture back
        </button>
      )}
      <Modal opened={shown !== null} onClose={() => setShown(null)} title={`Picture of ${of}`} size="xl">
        {shown && (
          <>
            <img className={classes.large} src={`/api/photos/${shown.id}`} alt={`Of ${of}`} width={shown.wide} height={shown.tall} />
            <button type="button" className="quiet" onClick={() => void strike(shown, true)}>
              take it away
            </button>
          </>
        )}
      </Modal>
    </div>
  )
}
