import { Button, Loader } from '@mantine/core'
import { useState } from 'react'
import type { Job, TiltRow, TiltSearch } from '../../api/client'
import { Broken } from '../../parts/Broken'
import { Num } from '../../parts/Num'
import { useSearch } from '../../parts/useSearch'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

type Gathered = TiltSearch & { rows: TiltRow[] }

/** The mould out of level, so that high spots move together: how many vents it takes by tilt. */
export function TiltTable({ job }: { job: Job }) {
  const { design, kept, set } = useDesign()
  const [asked, setAsked] = useState(false)
  const { found, broken, again } = useSearch<Gathered>(
    !asked || kept === null ? null : `/api/jobs/${job.id}/searches/tilts?v=${encodeURIComponent(kept)}`,
    (sofar, news) => ({ ...news, rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []) }),
  )
  return (
    <>
      <div className={classes.head}>
        <h2>Out of level</h2>
        {design.tilt && (
          <Button size="compact-xs" variant="default" onClick={() => set({ tilt: undefined })}>
            Level again
          </Button>
        )}
        <Button size="compact-xs" variant="default" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          {asked ? 'Close' : 'What a tilt spares'}
        </Button>
      </div>
      {design.tilt && (
        <p className={classes.hint}>
          Poured {design.tilt.degrees}° out of level, {side(design.tilt.high)} raised. Level and liquid are drawn as if it stood straight;
          the air is that of the tilt.
        </p>
      )}
      {asked && !found?.finished && !broken && (
        <p role="status" className={classes.hint}>
          <Loader size="xs" /> Tilting it…
        </p>
      )}
      <Broken problem={broken} again={again} />
      {asked && (
        <ul className={classes.vents} aria-label="Tilts of the mould">
          {(found?.rows ?? []).map((r, i) => (
            <li key={i}>
              <span>
                {r.tilt ? `${r.tilt.degrees}°, ${side(r.tilt.high)} up` : 'level'}{' '}
                <span className="soft">
                  {r.vents.length === 1 ? '1 vent' : `${r.vents.length} vents`}
                  {r.vents.length > 1 && (
                    <>
                      ; the first alone leaves <Num label={`Air with the first vent alone, ${i + 1}`} number={r.first} />
                    </>
                  )}
                </span>
              </span>
              <Button
                size="compact-xs"
                variant="default"
                aria-label={`Choose ${r.tilt ? `${r.tilt.degrees}° out of level` : 'level'}, with its vents`}
                onClick={() => set({ tilt: r.tilt, vents: r.vents })}
              >
                choose
              </Button>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}

/** The side of the mould that is raised, by the axes of the mesh. */
export function side(high: readonly number[]): string {
  const names = (['x', 'y', 'z'] as const)
    .filter((_, k) => Math.abs(high[k]) > 0.3)
    .map((axis) => `${high['xyz'.indexOf(axis)] < 0 ? '−' : '+'}${axis}`)
  return `${names.join(' ')} ${names.length > 1 ? 'corner' : 'side'}`
}
