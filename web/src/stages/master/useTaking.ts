import { useRef, useState } from 'react'
import { asProblem, client, ifMatch, Problem, type Job, type MasterChoice } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { upload } from '../../kept/upload'
import { say, sayOutcome } from '../../parts/Say'
import { settle } from '../openDesign'

const largest = 100 * 2 ** 20

/** A master on its way: what is being done, how far it is, and what stood against it. */
export interface Taking {
  /** In words; null when nothing is going on. */
  doing: string | null
  /** Share of a file that is sent; null where it cannot be told. */
  share: number | null
  cancel?: () => void
  refused: Problem | null
  /** Tries again what was refused or lost. */
  again?: () => void
}

const rest: Taking = { doing: null, share: null, refused: null }

/** Takes another master, turns it, or goes back to an earlier one. What fails says so where it was asked for. */
export function useTaking(job: Job, refresh: () => void) {
  const [taking, setTaking] = useState<Taking>(rest)
  const newest = useRef(job)
  newest.current = job

  async function run(doing: string, work: () => Promise<void>, again: () => void, cancel?: () => void) {
    setTaking({ doing, share: null, refused: null, cancel })
    try {
      await settle(job.id) // what was changed last belongs to what is set aside
      await work()
      setTaking(rest)
    } catch (thrown) {
      setTaking({ ...rest, refused: asProblem(thrown), again })
    }
    refresh()
  }

  function read(file: File | null, key: string = crypto.randomUUID()) {
    if (!file) return
    if (file.size > largest) {
      const size = `${Math.round(file.size / 2 ** 20)} MB; at most 100 MB can be taken.`
      const refused = new Problem('That is too large', `${size} Export the mesh with fewer triangles, or as a binary file.`, 413)
      setTaking({ ...rest, refused })
      return
    }
    const sending = upload(newest.current, file, key, (share) =>
      setTaking((t) => ({ ...t, share, doing: share < 1 ? t.doing : `Reading ${file.name}…` })),
    )
    const work = async () => {
      await sending.done
      say(`${file.name} was read`)
    }
    void run(`Sending ${file.name}…`, work, () => read(file, key), sending.cancel)
  }

  function choose(body: MasterChoice, done: string) {
    const work = async () => sayOutcome(await make(changes.chooseMaster(newest.current, body)), done)
    void run('Working…', work, () => choose(body, done))
  }

  function turn(up: readonly number[], purpose: 'draw' | 'pour' | 'back', done: string) {
    const work = async () => {
      await client.PUT('/jobs/{jobId}/master/turn', {
        params: { path: { jobId: job.id }, header: { ...ifMatch(newest.current.version), 'Idempotency-Key': crypto.randomUUID() } },
        body: { up: [up[0], up[1], up[2]], purpose },
      })
      say(done, 'The design before it can be gone back to, under Part.')
    }
    void run('Turning it…', work, () => turn(up, purpose, done))
  }

  function goBack(earlierId: string, name: string) {
    const work = async () => {
      await client.POST('/jobs/{jobId}/earlier/{earlierId}', {
        params: {
          path: { jobId: job.id, earlierId },
          header: { ...ifMatch(newest.current.version), 'Idempotency-Key': crypto.randomUUID() },
        },
      })
      say(`${name} is the master again`)
    }
    void run('Going back…', work, () => goBack(earlierId, name))
  }

  return { taking, read, choose, turn, goBack, forget: () => setTaking(rest) }
}
