import { Button, Checkbox, Loader } from '@mantine/core'
import { useEffect, useState } from 'react'
import type { Job, PiecedMould, PieceSearch } from '../../api/client'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { useSearch } from '../master/useSearch'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'
import { Undercuts } from './Undercuts'
import { hash } from './useBuild'

interface Props {
  job: Job
  onFound: (mould: PiecedMould | null, halvesOnly: boolean) => void
}

/** Pieces: how the rubber comes apart, in the order it is opened. */
export function PiecesPanel({ job, onFound }: Props) {
  const { design, keeping } = useDesign()
  const [wanted, setWanted] = useState<string | null>(null)
  const [halvesOnly, setHalvesOnly] = useState(false)
  // another design is another mould
  const version = hash(JSON.stringify([design, job.master?.mesh?.key]))
  const asked = wanted === version
  const ask = (on: boolean) => setWanted(on ? version : null)
  const found = useSearch<PieceSearch>(asked && (keeping === 'kept' || keeping === 'proposal') ? `/api/jobs/${job.id}/searches/pieces?halvesOnly=${halvesOnly}&v=${version}` : null, (_, news) => news, () => ask(false))
  const mould = found?.mould ?? null
  useEffect(() => onFound(mould, halvesOnly), [mould, halvesOnly, onFound])

  if (job.master?.kind !== 'mesh') return <p className={classes.hint}>Only a shape can be divided; this master is known by its measures.</p>
  return (
    <>
      <h2>Pieces</h2>
      <p className={classes.hint}>The parting follows the outline; what no rubber strips out of gets a side piece. Every piece is moved out in its turn to see whether it catches.</p>
      <Checkbox size="xs" label="Two halves only: strip what is undercut" checked={halvesOnly} onChange={(e) => setHalvesOnly(e.currentTarget.checked)} />
      {!asked && (
        <Button mt={8} fullWidth size="xs" onClick={() => ask(true)}>
          Divide the rubber
        </Button>
      )}
      {asked && !found?.finished && (
        <div className={classes.progress} role="status">
          <Loader size="xs" /> {found?.stage ?? 'beginning'}…
          <Button size="compact-xs" variant="default" onClick={() => ask(false)}>Cancel</Button>
        </div>
      )}
      {mould && (
        <>
          <Row label="Parting line"><Num label="Parting line" number={mould.line} /></Row>
          <Row label="It leaves its level by"><Num label="It leaves its level by" number={mould.off} /></Row>
          <Row label="Steepest place"><Num label="Steepest place" number={mould.steep} /> °</Row>
          <Row label="Share of it that shows"><Num label="Share of it that shows" number={mould.open} /></Row>
          <Row label="Keys">{mould.keys.length > 0 ? <><span className="num">{mould.keys.length}</span> {mould.keys[0].kind}</> : 'none'}</Row>
          {mould.keysShort && <p className={classes.note}>{mould.keysShort}</p>}
          <Undercuts all={mould.undercuts} />
          <ol className={classes.pieces}>
            {mould.pieces.map((p, i) => (
              <li key={p.name}>
                <div>
                  <span className="num">{p.order}</span> <strong>{p.name}</strong>
                  <a href={`/api/jobs/${job.id}/pieces/${i}/stl?halvesOnly=${halvesOnly}`} download aria-label={`${p.name} as STL`}>STL</a>
                </div>
                <div>
                  <Num label={`Rubber in ${p.name}`} number={p.volume} />
                  {p.batch && <> · A <Num label={`Part A for ${p.name}`} number={p.batch.a} /> · B <Num label={`Part B for ${p.name}`} number={p.batch.b} /></>}
                </div>
                {p.stripped > 0.05 && <p className={classes.note}><Qty value={p.stripped} kind="volume" /> of it is stripped over the part</p>}
                {p.catches > 0.001 && <p className={classes.bad}>◆ <Qty value={p.catches} kind="volume" /> of it catches</p>}
              </li>
            ))}
          </ol>
          <Row label="All of them, for printing or another program"><a className={classes.file} href={`/api/jobs/${job.id}/pieces.3mf?halvesOnly=${halvesOnly}`} download>3MF</a></Row>
          <p className={classes.hint}>In the order of opening. Pieces and part make up the box to {(100 * mould.error).toFixed(2)} %.</p>
        </>
      )}
    </>
  )
}
