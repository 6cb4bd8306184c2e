import { Button } from '@mantine/core'
import { useState } from 'react'
import { dir } from '../axes'
import type { SceneProps } from './Scene'
import classes from './Viewer.module.css'

/** The part as the server draws it, where there is no 3D view, and why there is none. */
export function Drawn({ job, label, up, upVector, why, again }: SceneProps & { why: string; again?: () => void }) {
  const [x, y, z] = upVector ?? dir(up)
  const source = `/api/jobs/${job.id}/pictures/draw?x=${x}&y=${y}&z=${z}`
  const [missing, setMissing] = useState('')
  return (
    <div className={classes.drawn}>
      <p role="status">
        {why} Section, plan and lists go on without it.{' '}
        {again && (
          <>
            <Button size="compact-xs" variant="default" onClick={again}>
              Draw it again
            </Button>{' '}
            <Button size="compact-xs" variant="default" onClick={() => window.location.reload()}>
              Reload the page
            </Button>
          </>
        )}
      </p>
      {missing !== source && <img src={source} alt={label} onError={() => setMissing(source)} />}
    </div>
  )
}
