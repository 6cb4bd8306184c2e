import { Button, Loader, SegmentedControl } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { asProblem, client, type Gang, type GangCase, type Job } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { useShop } from '../../parts/useShop'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'
import { Templates } from './Templates'

type Room = 'box' | 'pot'

/** Gang: several cavities in one mould, compared and laid out. */
export function GangPanel({ job }: { job: Job }) {
  const { design } = useDesign()
  const shop = useShop()
  const [room, setRoom] = useState<Room>('box')
  const [count, setCount] = useState<number | null>(4)
  const [gap, setGap] = useState(8)
  const [edge, setEdge] = useState(design.clearance.beside)
  const body = { gap, edge, ...(room === 'pot' ? { pot: shop?.practice.potWide ?? 0 } : {}), ...(count ? { count } : {}) }
  const at = [job.id, job.master?.mesh?.key, design.resinUp, design.clearance]
  const gang = useQuery({
    queryKey: ['gang', ...at, body],
    enabled: job.master?.kind === 'mesh' && (room === 'pot' || count !== null),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => (await client.POST('/jobs/{jobId}/gang', { params: { path: { jobId: job.id } }, body, signal })).data!,
  })
  const cases = useQuery({
    queryKey: ['gangs', ...at, gap, edge],
    enabled: job.master?.kind === 'mesh',
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => (await client.POST('/jobs/{jobId}/gang/compare', { params: { path: { jobId: job.id } }, body: { gap, edge }, signal })).data!,
  })
  if (job.master?.kind !== 'mesh') return <p className={classes.hint}>Cavities are laid by their outline; this master is known by its measures.</p>
  const problem = gang.error ? asProblem(gang.error) : null
  return (
    <>
      <h2>Several cavities</h2>
      <SegmentedControl fullWidth size="xs" aria-label="Laid into" value={room} onChange={(v) => setRoom(v as Room)} data={[{ value: 'box', label: 'smallest box' }, { value: 'pot', label: 'pressure pot' }]} />
      <div className={classes.three}>
        <MeasureInput compact label={room === 'pot' ? 'Cavities, at most' : 'Cavities'} kind="number" value={count} onChange={(v) => setCount(v === null ? null : Math.max(1, Math.min(400, Math.round(v))))} allowEmpty={room === 'pot'} />
        <MeasureInput compact label="Between" kind="length" value={gap} onChange={(v) => v !== null && setGap(v)} />
        <MeasureInput compact label="To the wall" kind="length" value={edge} onChange={(v) => v !== null && setEdge(v)} />
      </div>
      {problem && <p role="alert" className={classes.bad}>{problem.title}. {problem.detail}</p>}
      {gang.isFetching && <p className={classes.hint} role="status"><Loader size="xs" /> Laying them…</p>}
      {gang.data && !problem && <Plan gang={gang.data} />}
      {gang.data && !problem && (
        <>
          <Row label={gang.data.short ? 'There is room for' : gang.data.kind}>
            <span className="num">{gang.data.poses.length}</span> {gang.data.poses.length === 1 ? 'cavity' : 'cavities'}
          </Row>
          <Row label={gang.data.diameter > 0 ? 'Round box, inside' : 'Box, inside'}>
            {gang.data.diameter > 0 ? <Qty value={gang.data.diameter} kind="length" /> : <><Qty value={gang.data.wide} kind="length" /> × <Qty value={gang.data.deep} kind="length" /></>}
          </Row>
          <Row label="Rubber for each cavity"><Num label="Rubber for each cavity" number={gang.data.each} /></Row>
          <Row label="Rubber of the mould"><Num label="Rubber of the gang" number={gang.data.rubber} /></Row>
          <Templates label="Plan, 1:1" path={`/api/jobs/${job.id}/templates/gang`} query={`?${new URLSearchParams(Object.entries(body).map(([k, v]) => [k, String(v)])).toString()}`} />
        </>
      )}
      <h2>What each number costs</h2>
      {cases.data && <Compare cases={cases.data} at={count} onPick={(n) => { setRoom('box'); setCount(n) }} />}
    </>
  )
}

/** The gang seen from above. */
function Plan({ gang }: { gang: Gang }) {
  const size = Math.max(gang.diameter, gang.wide, gang.deep) * 1.04
  const ring = `M${gang.ring.map((p) => `${p[0].toFixed(2)} ${(-p[1]).toFixed(2)}`).join('L')}Z`
  const round = gang.diameter > 0
  return (
    <svg className={classes.plan} viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`} role="img" aria-label={`${gang.poses.length} cavities seen from above`}>
      {round ? <circle r={gang.diameter / 2} className={classes.block} /> : <rect x={-gang.wide / 2} y={-gang.deep / 2} width={gang.wide} height={gang.deep} className={classes.block} />}
      {gang.poses.map((p, i) => (
        <g key={i} transform={`translate(${p[0]} ${-p[1]}) rotate(${-p[2]})`}>
          <path d={ring} className={classes.cavity} />
        </g>
      ))}
    </svg>
  )
}

/** Rubber for each cavity by their number; the ones that fit the pot are filled. */
function Compare({ cases, at, onPick }: { cases: GangCase[]; at: number | null; onPick: (n: number) => void }) {
  const most = Math.max(...cases.map((c) => c.each))
  return (
    <table className={classes.compare}>
      <thead>
        <tr><th>cavities</th><th>rubber each</th><th aria-label="Share" /><th>pulls left</th><th>pot</th></tr>
      </thead>
      <tbody>
        {cases.map((c) => (
          <tr key={c.count} data-at={c.count === at || undefined}>
            <td><Button size="compact-xs" variant="subtle" aria-label={`Lay ${c.count}`} onClick={() => onPick(c.count)}>{c.count}</Button></td>
            <td><Qty value={c.each} kind="volume" /></td>
            <td><svg viewBox="0 0 60 8" width="60" height="8" aria-hidden><rect width={(60 * c.each) / most} height="8" fill="var(--hatch)" /></svg></td>
            <td><span className="num">{c.pulls}</span></td>
            <td>{c.fitsPot ? 'fits' : <span className="soft">no</span>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
