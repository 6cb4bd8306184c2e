import { Button, Progress, Slider } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState, type KeyboardEvent } from 'react'
import { client, type Attitude, type AttitudeSearch, type Point } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { Broken } from '../../parts/Broken'
import { show as shown, told, unitOf } from '../../parts/units'
import { useSystem } from '../../parts/useShop'
import { useSearch } from '../../parts/useSearch'

const degree = Math.PI / 180
const restMs = 250

function upOf(tilt: number, turn: number): Point {
  const s = Math.sin(tilt * degree)
  return [s * Math.cos(turn * degree), s * Math.sin(turn * degree), Math.cos(tilt * degree)]
}

function anglesOf(up: readonly number[]): [tilt: number, turn: number] {
  const tilt = Math.acos(Math.max(-1, Math.min(1, up[2]))) / degree
  const turn = Math.atan2(up[1], up[0]) / degree
  return [Math.round(tilt * 10) / 10, Math.round(((turn + 360) % 360) * 10) / 10]
}

/** Pour: which way up the part is best filled, by search or by hand. */
export function PourPanel({ job, setLook, turn, busy }: PanelProps) {
  const [[tilt, around], setAngles] = useState<[number, number]>([0, 0])
  const up = useMemo(() => upOf(tilt, around), [tilt, around])
  const [rested, setRested] = useState(true)
  const [searching, setSearching] = useState(false)
  const { found, broken, again } = useSearch<AttitudeSearch>(
    searching ? `/api/jobs/${job.id}/searches/attitudes?v=${job.master?.mesh?.key}` : null,
    (sofar, news) => (news.finished ? news : { ...news, ways: [...(sofar?.ways ?? []), ...news.ways] }),
  )

  useEffect(() => {
    setRested(false)
    const t = window.setTimeout(() => setRested(true), restMs)
    return () => window.clearTimeout(t)
  }, [up])

  const looked = useQuery({
    queryKey: ['attitude', job.master?.mesh?.key, up, rested],
    queryFn: async ({ signal }) => {
      const { data } = await client.POST('/jobs/{jobId}/attitude', {
        params: { path: { jobId: job.id } },
        body: { up, fine: rested },
        signal,
      })
      return data!
    },
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  })
  const way = looked.data

  useEffect(() => {
    setLook({ up, spots: way?.pockets.map((p) => p.apex) ?? [] })
  }, [up, way, setLook])

  const angle = (label: string, value: number, most: number, put: (v: number) => void) => (
    <div className={classes.angle}>
      <Slider
        thumbLabel={label}
        min={0}
        max={most}
        step={1}
        value={value}
        onChange={put}
        label={null}
        marks={Array.from({ length: most / 45 + 1 }, (_, i) => ({ value: i * 45 }))}
      />
      <MeasureInput
        compact
        label={label}
        kind="number"
        unit="°"
        value={value}
        onChange={(v) => v !== null && put(Math.max(0, Math.min(most, v)))}
      />
    </div>
  )
  return (
    <>
      <h2>Turn it by hand</h2>
      {angle('Tilt', tilt, 180, (v) => setAngles(([, a]) => [v, a]))}
      {angle('Towards', around, 360, (v) => setAngles(([t]) => [t, v]))}
      <div className={classes.snaps}>
        {(
          [
            [0, 0],
            [90, 0],
            [90, 90],
            [90, 180],
            [90, 270],
            [180, 0],
          ] as const
        ).map(([t, a], i) => (
          <Button key={i} size="compact-xs" variant="default" onClick={() => setAngles([t, a])}>
            {['+z', '+x', '+y', '-x', '-y', '-z'][i]}
          </Button>
        ))}
        <Button size="compact-xs" variant="default" onClick={() => setAngles([Math.round(tilt / 15) * 15, Math.round(around / 15) * 15])}>
          snap to 15°
        </Button>
      </div>
      {way && (
        <>
          <Row label="High spots that want a vent">
            <span className="num">{way.vents}</span>
          </Row>
          <Row label="Air that one vent would leave">
            {way.sums ? <Num label="Air that one vent would leave" number={way.sums.air} /> : <Qty value={way.air} kind="volume" />}
          </Row>
          <Row label="Air under it, in the rubber">
            {way.sums ? <Num label="Air in the rubber" number={way.sums.rubberAir} /> : <Qty value={way.rubberAir} kind="volume" />}
          </Row>
          <Row label="Height">
            <Qty value={way.height} kind="length" />
          </Row>
          <Row label="Floor">{way.sums ? <Num label="Floor" number={way.sums.floor} /> : <Qty value={way.floorCm2} kind="area" />}</Row>
        </>
      )}
      <Button mt={6} fullWidth size="xs" disabled={busy || tilt === 0} onClick={() => turn(up, 'pour', 'Turned for the pour')}>
        Pour it this way up
      </Button>
      <h2>Ways up compared</h2>
      {!searching && (
        <Button fullWidth size="xs" variant="default" onClick={() => setSearching(true)}>
          Search ways up
        </Button>
      )}
      <Broken problem={broken} again={again} />
      {searching && !found?.finished && !broken && (
        <div className={classes.progress}>
          <Progress value={found ? (100 * found.done) / found.total : 0} aria-label="Ways up weighed" />
          <Button size="compact-xs" variant="default" onClick={() => setSearching(false)}>
            Cancel
          </Button>
        </div>
      )}
      {found && <TradeOff ways={found.ways} at={up} onPick={(w) => setAngles(anglesOf(w.up))} />}
    </>
  )
}

/** Every way up as a point: air left against height; the filled ones are not beaten by any other. */
function TradeOff({ ways, at, onPick }: { ways: Attitude[]; at: Point; onPick: (w: Attitude) => void }) {
  const mostAir = Math.max(...ways.map((w) => w.air + w.rubberAir), 0.01)
  const [low, high] = [Math.min(...ways.map((w) => w.height)), Math.max(...ways.map((w) => w.height))]
  const x = (w: Attitude) => 30 + 200 * Math.sqrt((w.air + w.rubberAir) / mostAir)
  const y = (w: Attitude) => 118 - 100 * ((w.height - low) / Math.max(high - low, 1e-6))
  const near = (w: Attitude) => w.up[0] * at[0] + w.up[1] * at[1] + w.up[2] * at[2] > 0.9999
  const best = ways.filter((w) => w.front).slice(0, 4)
  const system = useSystem()
  const said = (w: Attitude) =>
    `${w.vents === 1 ? '1 vent' : `${w.vents} vents`}, ${told(w.air + w.rubberAir, 'volume', system)} of air, ${told(w.height, 'length', system)} high`
  const reached = Math.max(0, ways.findIndex(near))
  const order = ways.map((_, i) => i).toSorted((a, b) => x(ways[a]) - x(ways[b]))
  function lead(e: KeyboardEvent<SVGCircleElement>, i: number) {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, Enter: 0, ' ': 0 }[e.key]
    if (by === undefined) return
    e.preventDefault()
    const to = order[Math.min(order.length - 1, Math.max(0, order.indexOf(i) + by))]
    e.currentTarget.ownerSVGElement?.querySelectorAll<SVGCircleElement>('circle')[to]?.focus()
    onPick(ways[to])
  }
  return (
    <>
      <svg className={classes.tradeoff} viewBox="0 0 240 136" role="radiogroup" aria-label="Ways up: air left in against height">
        <path d="M26 12V122H236" fill="none" stroke="currentColor" strokeWidth="0.8" />
        <text x="236" y="133" textAnchor="end">
          air left in, {unitOf('volume', system)} →
        </text>
        <text x="2" y="9">
          high, {unitOf('length', system)}
        </text>
        <text x="2" y="122">
          {shown(low, 'length', system).text}
        </text>
        <text x="2" y="26">
          {shown(high, 'length', system).text}
        </text>
        {ways.map((w, i) => (
          <circle
            key={i}
            cx={x(w)}
            cy={y(w)}
            r={w.front ? 4 : 2.6}
            className={classes.way}
            data-front={w.front || undefined}
            data-at={near(w) || undefined}
            role="radio"
            aria-checked={near(w)}
            aria-label={said(w)}
            tabIndex={i === reached ? 0 : -1}
            onClick={() => onPick(w)}
            onKeyDown={(e) => lead(e, i)}
          >
            <title>{said(w)}</title>
          </circle>
        ))}
      </svg>
      {best.length > 0 && (
        <ol className={classes.offers}>
          {best.map((w, i) => (
            <li key={i}>
              <button type="button" className={classes.offer} aria-pressed={near(w)} onClick={() => onPick(w)}>
                <span>
                  {w.vents === 1 ? '1 vent' : `${w.vents} vents`}, air <Qty value={w.air} kind="volume" />, in the rubber{' '}
                  <Qty value={w.rubberAir} kind="volume" />, <Qty value={w.height} kind="length" /> high
                </span>
              </button>
            </li>
          ))}
        </ol>
      )}
    </>
  )
}
