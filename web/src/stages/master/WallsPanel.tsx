import { useEffect, useMemo } from 'react'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { told } from '../../parts/units'
import { useSystem } from '../../parts/useShop'
import { useTokens, type Tokens } from '../../theme/useTokens'
import { Legend } from './Legend'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { useMap } from './useSurvey'

/** Bands of the map, from thin to thick; the first is what is thinner than the thinnest share of the scale. */
const bands = 6

function scale(tokens: Tokens): string[] {
  return [tokens.watch, tokens.rubber, tokens['resin-1'], tokens['resin-2'], tokens['resin-3'], tokens['resin-4'], tokens.master]
}

/** Walls: how thick the part is, place by place. */
export function WallsPanel({ job, survey, setLook, show }: PanelProps) {
  const tokens = useTokens()
  const system = useSystem()
  const map = useMap(job, 'thickness')
  const edges = useMemo(() => {
    if (!survey?.thinnest || !survey.thickest) return null
    const [low, high] = [survey.thinnest.thickness, survey.thickest.thickness]
    // even steps of the root: thin walls are told apart more finely than thick ones
    return Array.from({ length: bands - 1 }, (_, i) => low + (high - low) * ((i + 1) / bands) ** 1.6)
  }, [survey])

  useEffect(() => {
    if (!map.data || !edges) return
    const values = new Float32Array(map.data)
    const faces = new Uint8Array(values.length)
    for (let i = 0; i < values.length; i++) {
      let band = 0
      while (band < edges.length && values[i] > edges[band]) band++
      faces[i] = Number.isFinite(values[i]) ? band : bands
    }
    const colours = scale(tokens)
    const thick = (x: number) => told(x, 'length', system)
    const names = edges.map((e, i) => (i === 0 ? `under ${thick(e)}` : `${thick(edges[i - 1])} to ${thick(e)}`))
    setLook({
      paint: { key: edges.join(), faces, colours },
      legend: (
        <Legend
          title="Thickness"
          entries={[...names, `over ${thick(edges[edges.length - 1])}`, 'nothing faces it'].map((n, i) => [n, colours[i]] as const)}
        />
      ),
    })
  }, [map.data, edges, tokens, system, setLook])

  if (!survey) return <p className={classes.hint}>Measuring the walls…</p>
  const { thinnest, thickest, figures } = survey
  if (!thinnest || !thickest || !figures)
    return <p className={classes.hint}>Walls ask for a shape; this master is known by its measures.</p>
  const most = Math.max(...survey.shares.map((s) => s.share), 1e-9)
  return (
    <>
      <h2>Walls</h2>
      <p className={classes.hint}>
        The largest ball that touches the surface from inside and is stopped by a surface facing it: it follows tapers and rounds where a
        straight ray would measure the slant.
      </p>
      <Row
        label={
          <button type="button" className="quiet" onClick={() => show(thinnest.at)}>
            Thinnest
          </button>
        }
      >
        <Num label="Thinnest" number={figures.thinnest} />
      </Row>
      <Row label="Half of it is thinner than">
        <Num label="Half of it is thinner than" number={figures.median} />
      </Row>
      <Row
        label={
          <button type="button" className="quiet" onClick={() => show(thickest.at)}>
            Thickest
          </button>
        }
      >
        <Num label="Thickest" number={figures.thickest} />
      </Row>
      <h2>How much of the surface</h2>
      <svg
        className={classes.bars}
        viewBox="0 0 240 74"
        role="img"
        aria-label={`Share of the surface by thickness, from ${told(thinnest.thickness, 'length', system)} to ${told(thickest.thickness, 'length', system)}`}
      >
        {survey.shares.map((s, i) => {
          const w = 240 / survey.shares.length
          const h = (52 * s.share) / most
          return <rect key={i} x={i * w + 1} y={56 - h} width={w - 2} height={h} fill="var(--resin-3)" />
        })}
        <path d="M0 56.5H240" stroke="currentColor" strokeWidth="0.8" />
        <text x="0" y="70">
          {told(thinnest.thickness, 'length', system)}
        </text>
        <text x="240" y="70" textAnchor="end">
          {told(thickest.thickness, 'length', system)}
        </text>
      </svg>
      <Places title="Thinner than the resin likes" places={survey.thin} none="None, for the resin chosen." show={show} />
      <Places
        title="Narrow places to brush first"
        places={survey.recesses}
        none="No recess is narrower than the shop’s fine detail."
        show={show}
      />
    </>
  )
}

function Places({
  title,
  places,
  none,
  show,
}: {
  title: string
  places: { thickness: number; at: number[]; areaCm2: number }[]
  none: string
  show: (at: readonly number[]) => void
}) {
  return (
    <>
      <h2>
        {title}
        {places.length > 0 && ` · ${places.length}`}
      </h2>
      {places.length === 0 && <p className={classes.hint}>{none}</p>}
      <ul className={classes.list}>
        {places.slice(0, 12).map((p, i) => (
          <li key={i}>
            <button type="button" className="quiet" onClick={() => show(p.at)} title="Show the place">
              <Qty value={p.thickness} kind="length" /> over <Qty value={p.areaCm2} kind="area" />
            </button>
          </li>
        ))}
      </ul>
    </>
  )
}
