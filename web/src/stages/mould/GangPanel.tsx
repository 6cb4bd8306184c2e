import { Button, Loader, SegmentedControl, VisuallyHidden } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { asProblem, client, type GangCase, type Job } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { along } from '../../parts/axes'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { useShop } from '../../parts/useShop'
import { useDesign } from '../useDesign'
import { GangPlan } from './GangPlan'
import classes from './mould.module.css'
import { Templates } from './Templates'
import { Refused } from '../../parts/Refused'
import { useSending } from '../../parts/useSending'

type Room = 'box' | 'pot'

/** Gang: several cavities in one mould, compared, laid out, moved by hand, and taken into the design. */
export function GangPanel({ job }: { job: Job }) {
  const { design, study, set, kept } = useDesign()
  const shop = useShop()
  const taken = design.gang ?? []
  const [room, setRoom] = useState<Room>('box')
  const [count, setCount] = useState<number | null>(taken.length > 1 ? taken.length : 4)
  const [gap, setGap] = useState(design.gap ?? 8)
  const [edge, setEdge] = useState(design.clearance.beside)
  const [byHand, setByHand] = useState<number[][] | null>(taken.length > 0 ? taken : null)
  const path = { params: { path: { jobId: job.id } } }
  const body = { gap, edge, ...(room === 'pot' ? { pot: shop?.practice.potWide ?? 0 } : {}), ...(count ? { count } : {}) }
  const at = [kept]
  const known = kept !== null // cavities are laid for the design that is kept
  const laid = useQuery({
    queryKey: ['gang', ...at, body],
    enabled: known && !byHand && (room === 'pot' || count !== null),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => (await client.POST('/jobs/{jobId}/gang', { ...path, body, signal })).data!,
  })
  const placed = useQuery({
    queryKey: ['gang-place', ...at, byHand, gap, edge],
    enabled: known && !!byHand,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) =>
      (await client.POST('/jobs/{jobId}/gang/place', { ...path, body: { poses: byHand!, gap, edge }, signal })).data!,
  })
  const gang = byHand ? placed : laid
  const shown = gang.data ?? (byHand ? laid : placed).data // until the first answer by hand is there, what it was moved from
  const cases = useQuery({
    queryKey: ['gangs', ...at, gap, edge, design.resin],
    enabled: known,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => (await client.POST('/jobs/{jobId}/gang/compare', { ...path, body: { gap, edge }, signal })).data!.cases,
  })
  const problem = gang.error ? asProblem(gang.error) : null
  const overlap = placed.data?.overlap && byHand ? placed.data.overlap : undefined
  const { refused, sending } = useSending()
  const pourAlong = () =>
    sending(async () => {
      const next = { ...design, resinUp: design.draw, vents: [] }
      const { data } = await client.POST('/jobs/{jobId}/vents', { ...path, body: next })
      setByHand(null)
      set({ resinUp: design.draw, vents: data!, gang: undefined })
    })
  const again = (change: () => void) => {
    setByHand(null)
    change()
  }
  const isTaken = !!shown && taken.length > 0 && alike(shown.poses, taken)
  return (
    <>
      <h2>Several cavities</h2>
      <Refused problem={refused} />
      {study && !study.mould.known && (
        <p className={classes.hint}>The shape is not known: cavities are laid by the block of its measures.</p>
      )}
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Laid into"
        value={room}
        onChange={(v) => again(() => setRoom(v as Room))}
        data={[
          { value: 'box', label: 'smallest box' },
          { value: 'pot', label: 'pressure pot' },
        ]}
      />
      <div className={classes.three}>
        <MeasureInput
          compact
          label={room === 'pot' ? 'Cavities, at most' : 'Cavities'}
          kind="number"
          value={count}
          onChange={(v) => again(() => setCount(v === null ? null : Math.max(1, Math.min(60, Math.round(v)))))}
          allowEmpty={room === 'pot'}
        />
        <MeasureInput compact label="Between" kind="length" value={gap} onChange={(v) => v !== null && setGap(v)} />
        <MeasureInput compact label="To the wall" kind="length" value={edge} onChange={(v) => v !== null && setEdge(v)} />
      </div>
      {!along(design.resinUp, design.draw) && (
        <p className={classes.hint}>
          The parting stands upright for the resin, so cavities stand in rows, each the same way up.{' '}
          <button type="button" className="quiet" onClick={() => void pourAlong()}>
            Pour along the draw, {design.draw} up
          </button>{' '}
          and they can lie turned, in rings and nests.
        </p>
      )}
      {problem && (
        <p role="alert" className={classes.bad}>
          {problem.title}. {problem.detail}
        </p>
      )}
      {overlap && (
        <p role="alert" className={classes.bad}>
          {overlap}
        </p>
      )}
      {gang.isFetching && !shown && (
        <p className={classes.hint} role="status">
          <Loader size="xs" /> Laying them…
        </p>
      )}
      {shown && (
        <>
          <GangPlan key={shown.poses.length} gang={shown} refused={!!overlap} onMove={setByHand} />
          <Row label={shown.short ? 'There is room for' : shown.kind}>
            <span className="num">{shown.poses.length}</span> {shown.poses.length === 1 ? 'cavity' : 'cavities'}
          </Row>
          <Row label={shown.diameter > 0 ? 'Round box, inside' : 'Box, inside'}>
            {shown.diameter > 0 ? (
              <Qty value={shown.diameter} kind="length" />
            ) : (
              <>
                <Qty value={shown.wide} kind="length" /> × <Qty value={shown.deep} kind="length" />
              </>
            )}
          </Row>
          <Row label="Rubber for each cavity">
            <Num label="Rubber for each cavity" number={shown.each} />
          </Row>
          <Row label="Rubber of the mould">
            <Num label="Rubber of the gang" number={shown.rubber} />
          </Row>
          {isTaken ? (
            <Row label="This design has these cavities">
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => {
                  setByHand(null)
                  set({ gang: undefined, gap: undefined })
                }}
              >
                back to one
              </Button>
            </Row>
          ) : (
            <Button
              mt={6}
              fullWidth
              size="xs"
              disabled={!!problem || !!overlap}
              onClick={() =>
                set((now) => ({
                  gang: shown.poses,
                  gap,
                  clearance: { ...now.clearance, beside: edge },
                  ...(shown.diameter > 0 ? { box: { form: 'round' as const } } : {}),
                }))
              }
            >
              Build it with these
            </Button>
          )}
          <Templates
            label="Plan, 1:1"
            path={`/api/jobs/${job.id}/templates/gang`}
            query={`?${new URLSearchParams(Object.entries(body).map(([k, v]) => [k, String(v)])).toString()}`}
          />
        </>
      )}
      <h2>What each number costs</h2>
      {cases.data && (
        <Compare
          cases={cases.data}
          at={shown?.poses.length ?? count}
          onPick={(n) =>
            again(() => {
              setRoom('box')
              setCount(n)
            })
          }
        />
      )}
    </>
  )
}

/** Whether cavities lie in the same places, but for rounding. */
const alike = (a: number[][], b: number[][]) => a.length === b.length && a.every((p, i) => p.every((v, k) => Math.abs(v - b[i][k]) < 0.01))

/** What each number of cavities costs; those that do not fit the pot or the pot life say so. */
function Compare({ cases, at, onPick }: { cases: GangCase[]; at: number | null; onPick: (n: number) => void }) {
  const most = Math.max(...cases.map((c) => c.each))
  const chosen = cases.find((c) => c.count === at)
  return (
    <>
      <table className={classes.compare}>
        <thead>
          <tr>
            <th>cavities</th>
            <th>rubber each</th>
            <th>
              <VisuallyHidden>Share</VisuallyHidden>
            </th>
            <th>pulls</th>
            <th>pour, min</th>
            <th>work</th>
            <th>pot</th>
          </tr>
        </thead>
        <tbody>
          {cases.map((c) => (
            <tr key={c.count} data-at={c.count === at || undefined}>
              <td>
                <Button size="compact-xs" variant="subtle" aria-label={`Lay ${c.count}`} onClick={() => onPick(c.count)}>
                  {c.count}
                </Button>
              </td>
              <td>
                <Qty value={c.each} kind="volume" />
              </td>
              <td>
                <svg viewBox="0 0 30 8" width="30" height="8" aria-hidden>
                  <rect width={(30 * c.each) / most} height="8" fill="var(--hatch)" />
                </svg>
              </td>
              <td>
                <span className="num">{c.pulls}</span>
              </td>
              <td className={c.inLife ? undefined : classes.late}>
                <Num label={`Pouring ${c.count}`} number={c.pour} />
                {!c.inLife && <span aria-label="longer than the pot life"> ▲</span>}
              </td>
              <td>
                <Num label={`Work with ${c.count}`} number={c.work} />
              </td>
              <td>{c.fitsPot ? 'fits' : <span className="soft">no</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={classes.hint}>
        A casting by itself takes <Qty value={cases[0].waste} kind="volume" /> of resin in channels and margin
        {chosen && chosen.count > 1 && (
          <>
            , one of {chosen.count} <Qty value={chosen.waste} kind="volume" />
          </>
        )}
        . ▲ longer than the resin’s pot life.
      </p>
    </>
  )
}
