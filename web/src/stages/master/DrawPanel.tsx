import { Button, Progress } from '@mantine/core'
import { useEffect, useState } from 'react'
import type { DrawSearch, Point, Undercut } from '../../api/client'
import { WayPicker } from '../../parts/WayPicker'
import { dir } from '../../parts/axes'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { useTokens } from '../../theme/useTokens'
import { useDesign } from '../useDesign'
import { Legend } from './Legend'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { Broken } from '../../parts/Broken'
import { useSearch } from '../../parts/useSearch'
import { useMap } from './useSurvey'
import { Words } from '../../parts/Words'

const answers: Record<string, string> = { split: 'parting through it', plug: 'fill it', slit: 'cut there' }
const modes: Record<string, string> = {
  threaded: 'runs through the part',
  collar: 'round the part',
  core: 'fills a pocket',
  lip: 'under a shelf',
}

/** Draw: what comes away which way, what is locked, and the best ways to draw. */
export function DrawPanel({ job, survey, setLook, show, turn, busy }: PanelProps) {
  const { design, set } = useDesign()
  const tokens = useTokens()
  const [searching, setSearching] = useState(false)
  const { found, broken, again } = useSearch<DrawSearch>(searching ? `/api/jobs/${job.id}/searches/draws?v=${job.master?.mesh?.key}` : null)
  const [trial, setTrial] = useState<Point | null>(null)
  const draw = trial ?? dir(design.draw)
  const map = useMap(job, `draw?x=${draw[0]}&y=${draw[1]}&z=${draw[2]}`)

  useEffect(() => {
    const colours = [tokens['resin-2'], tokens.rubber, tokens.master, tokens.air]
    setLook({
      arrow: draw,
      paint: map.data && { key: draw.join(), faces: new Uint8Array(map.data), colours },
      legend: (
        <Legend
          entries={[
            ['drawn up', colours[0]],
            ['drawn down', colours[1]],
            ['wall, either way', colours[2]],
            ['locked', colours[3]],
          ]}
        />
      ),
    })
  }, [map.data, draw[0], draw[1], draw[2], tokens, setLook]) // eslint-disable-line react-hooks/exhaustive-deps

  return (
    <>
      <h2>The draw at hand</h2>
      <WayPicker
        job={job}
        label="Draw along"
        value={design.draw}
        onChange={(axis) => {
          setTrial(null)
          set({ draw: axis, parting: null })
        }}
      />
      {survey?.figures && (
        <>
          <Row label="Locked rubber">
            <Num label="Locked rubber" number={survey.figures.locked} />
          </Row>
          <Row label="Parting line, about">
            <Num label="Parting line" number={survey.figures.seam} />
          </Row>
          <Row label="Off level by">
            <Num label="Off level by" number={survey.figures.seamOff} />
          </Row>
          <Row label="Upright walls, under 1° of draft">
            <Num label="Upright walls" number={survey.figures.steep} />
          </Row>
          <Undercuts undercuts={survey.undercuts} show={show} />
          <Words of={['draw', 'undercut', 'draft', 'parting', 'off level']} />
        </>
      )}
      <h2>The best ways to draw</h2>
      <p className={classes.hint}>
        400 directions over half the sphere: least locked first, then the flattest and shortest line and the lowest mould.
      </p>
      {!searching && (
        <Button fullWidth size="xs" variant="default" onClick={() => setSearching(true)}>
          Search the best draws
        </Button>
      )}
      {searching && (
        <>
          <Broken problem={broken} again={again} />
          {!found?.finished && !broken && (
            <div className={classes.progress}>
              <Progress value={found ? (100 * found.done) / found.total : 0} aria-label="Directions looked at" />
              <Button size="compact-xs" variant="default" onClick={() => setSearching(false)}>
                Cancel
              </Button>
            </div>
          )}
          <ol className={classes.offers}>
            {found?.best.map((o, i) => {
              const at = o.dir as Point
              return (
                <li key={i}>
                  <button type="button" className={classes.offer} aria-pressed={trial === at} onClick={() => setTrial(at)}>
                    <img
                      className={classes.picture}
                      src={`/api/jobs/${job.id}/pictures/draw?x=${at[0]}&y=${at[1]}&z=${at[2]}&v=${job.master?.mesh?.key}`}
                      alt={`The part standing along draw ${i + 1}`}
                      width="96"
                      height="72"
                    />
                    <span>
                      locked <Qty value={o.undercut} kind="volume" />, line <Qty value={o.seam} kind="length" />,{' '}
                      <Qty value={o.seamOff} kind="length" /> off level, <Qty value={o.height} kind="length" /> high
                    </span>
                  </button>
                </li>
              )
            })}
          </ol>
          {trial && found?.finished && (
            <Button fullWidth size="xs" disabled={busy} onClick={() => turn(trial, 'draw', 'Turned so that it draws upwards')}>
              Draw it this way
            </Button>
          )}
          {trial && <p className={classes.hint}>The part is turned so that this draw points up; box and vents start afresh from there.</p>}
        </>
      )}
    </>
  )
}

function Undercuts({ undercuts, show }: { undercuts: Undercut[]; show: (at: readonly number[]) => void }) {
  if (undercuts.length === 0) return <p className={classes.hint}>Nothing is undercut: two pieces draw.</p>
  return (
    <table className={classes.table}>
      <thead>
        <tr>
          <th>undercut</th>
          <th>deep</th>
          <th>it</th>
          <th>strain of allowed, %</th>
          <th>rubber</th>
        </tr>
      </thead>
      <tbody>
        {undercuts.map((u, i) => (
          <tr key={i}>
            <td>
              <button type="button" className="quiet" onClick={() => show(u.centre)} title="Show the place">
                <Qty value={u.volume} kind="volume" />
              </button>
            </td>
            <td>
              <Qty value={u.depth} kind="length" />
            </td>
            <td>{modes[u.mode] ?? u.mode}</td>
            <td>
              {u.mode === 'threaded' ? (
                'no stretching frees it'
              ) : (
                <>
                  <Num label={`Strain at undercut ${i + 1}`} number={u.strain} /> of{' '}
                  <Num label={`Allowed strain at undercut ${i + 1}`} number={u.allowed} />
                </>
              )}
            </td>
            <td>{answers[u.answer] ?? u.answer}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
