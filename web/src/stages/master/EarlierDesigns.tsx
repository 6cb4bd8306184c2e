import { Button } from '@mantine/core'
import { api, type Job } from '../../api/client'
import { moment } from '../../parts/day'
import classes from './master.module.css'

/** Masters with their designs that another took the place of, each with its way back. */
export function EarlierDesigns({ job, busy, goBack }: { job: Job; busy: boolean; goBack: (id: string, name: string) => void }) {
  const earlier = api.useQuery('get', '/jobs/{jobId}/earlier', { params: { path: { jobId: job.id } } }).data ?? []
  if (earlier.length === 0) return null
  return (
    <details className={classes.earlier}>
      <summary>{earlier.length === 1 ? '1 earlier version' : `${earlier.length} earlier versions`}</summary>
      <ul>
        {earlier.map((e) => (
          <li key={e.id}>
            <span>
              <strong>{e.master}</strong> {!e.designed && <span className="soft">without a design </span>}
              <br />
              <span className="soft">
                set aside {moment(new Date(e.setAside))}: {e.why}
              </span>
            </span>
            <Button
              size="xs"
              variant="default"
              disabled={busy}
              aria-label={`Go back to ${e.master}, set aside ${moment(new Date(e.setAside))}`}
              onClick={() => goBack(e.id, e.master)}
            >
              Go back
            </Button>
          </li>
        ))}
      </ul>
      <p className={classes.hint}>What stands here now is set aside then, and can be gone back to as well.</p>
    </details>
  )
}
