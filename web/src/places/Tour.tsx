import { Button } from '@mantine/core'
import { useLocalStorage } from '@mantine/hooks'
import { useEffect } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import classes from './Tour.module.css'

const steps: { stage: string; says: string }[] = [
  {
    stage: 'order',
    says: 'A job begins with its order: how many, by when. The strip above is the work in its order; any stage can be opened at any time.',
  },
  {
    stage: 'master',
    says: 'The master is the part that is copied. Drop a mesh, or give its measures: walls, undercuts and ways to pour are worked out of it.',
  },
  {
    stage: 'mould',
    says: 'The mould: its pieces, parting and box. Drag the parting in the section; the rubber follows. What speaks against it stands below, with a remedy.',
  },
  {
    stage: 'gates',
    says: 'How resin comes in and air goes out. Drag the level on the rail: a pocket lights up when it is shut in. Dotted numbers open how they were worked out.',
  },
  {
    stage: 'pulls',
    says: 'At the bench every pull is weighed and logged. The log keeps what is typed even when the server is away, and tells how long a mould will last.',
  },
]

const sample = 'Deck cleat'

/** Five steps on the demo job, for whoever is here for the first time. It can be left at once, and found again in the palette. */
export function Tour() {
  const [left, setLeft] = useLocalStorage({ key: 'bathyform tour', defaultValue: 'new', getInitialValueInEffect: false })
  const [address, setAddress] = useSearchParams()
  const navigate = useNavigate()
  const job = api.useQuery('get', '/jobs', {}, { enabled: left !== 'done' }).data?.find((j) => j.order.name === sample)
  const again = address.has('tour')
  useEffect(() => {
    if (!again) return
    setLeft('new')
    setAddress({}, { replace: true })
  }, [again, setLeft, setAddress])
  if (left === 'done' || !job) return null
  const at = left === 'new' ? -1 : Number(left)
  const go = (to: number) => {
    setLeft(to < steps.length ? String(to) : 'done')
    if (to < steps.length) void navigate(`/jobs/${job.id}/${steps[to].stage}`)
  }
  return (
    <aside className={classes.tour} aria-label="Tour">
      <p>{at < 0 ? `New here? Five steps on the job “${sample}” show what Bathyform does.` : steps[at].says}</p>
      <div className={classes.acts}>
        {at >= 0 && (
          <span className="soft num">
            {at + 1} of {steps.length}
          </span>
        )}
        <Button size="compact-sm" onClick={() => go(at + 1)}>
          {at < 0 ? 'Show me' : at + 1 < steps.length ? 'Next' : 'Done'}
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={() => setLeft('done')}>
          Leave the tour
        </Button>
      </div>
    </aside>
  )
}
