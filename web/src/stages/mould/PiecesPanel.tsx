import { Button, Loader } from '@mantine/core'
import type { Job } from '../../api/client'
import { Broken } from '../../parts/Broken'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { useDesign } from '../useDesign'
import { useKinds, type MouldWork } from '../useMould'
import classes from './mould.module.css'
import { Undercuts } from './Undercuts'

/** Pieces: how the rubber comes apart, in the order it is opened. */
export function PiecesPanel({ job, work }: { job: Job; work: MouldWork }) {
  const { set, study } = useDesign()
  const kind = useKinds().find((k) => k.kind === study?.mould.kind)
  const { build } = work
  if (job.master?.kind !== 'mesh')
    return <p className={classes.hint}>Only a shape can be divided; this master is known by its measures. Its pours are under Box.</p>
  const file = (piece: string, form: string) => `/api/jobs/${job.id}/rubber/${piece}/${form}?kind=${build?.mould.kind ?? ''}`
  return (
    <>
      <h2>Pieces</h2>
      <p className={classes.hint}>
        {kind?.sided
          ? 'The parting follows the outline; what no rubber strips out of gets a side piece. Every piece is moved out in its turn to see whether it catches.'
          : `${kind?.name ?? 'This mould'}: what is undercut is stripped.`}
      </p>
      <Button fullWidth size="xs" variant="default" onClick={() => set({ kind: kind?.sided ? 'clayed-up' : 'three-piece' })}>
        {kind?.sided ? 'Two halves only: strip what is undercut' : 'Give undercuts side pieces'}
      </Button>
      {work.stage !== null && (
        <div className={classes.progress} role="status">
          <Loader size="xs" /> {work.stage}…
        </div>
      )}
      <Broken problem={work.broken} again={work.again} />
      {build && (
        <>
          {build.seam && (
            <>
              <Row label="Parting line">
                <Num label="Parting line" number={build.seam.line} />
              </Row>
              <Row label="It leaves its level by">
                <Num label="It leaves its level by" number={build.seam.off} />
              </Row>
              <Row label="Steepest place">
                <Num label="Steepest place" number={build.seam.steep} /> °
              </Row>
              <Row label="Share of it that shows">
                <Num label="Share of it that shows" number={build.seam.open} />
              </Row>
              <Row label="Keys">
                {build.keys.length > 0 ? (
                  <>
                    <span className="num">{build.keys.length}</span> {build.keys[0].kind}
                  </>
                ) : (
                  'none'
                )}
              </Row>
              {build.keysShort && <p className={classes.note}>{build.keysShort}</p>}
              <Undercuts all={build.undercuts} />
            </>
          )}
          <ol className={classes.pieces}>
            {build.pieces.map((p, i) => (
              <li key={p.name}>
                <div>
                  <span className="num">{p.order}</span> <strong>{p.name}</strong>
                  <a href={file(String(i), 'stl')} download aria-label={`${p.name} as STL`}>
                    STL
                  </a>
                </div>
                <div>
                  <Num label={`Rubber in ${p.name}`} number={p.volume} />
                </div>
                {build.mould.halves && p.stripped > 0.05 && (
                  <p className={classes.note}>
                    <Qty value={p.stripped} kind="volume" /> of it is stripped over the part
                  </p>
                )}
                {p.catches > 0.001 && (
                  <p className={classes.bad}>
                    ◆ <Qty value={p.catches} kind="volume" /> of it catches
                  </p>
                )}
              </li>
            ))}
          </ol>
          <Row label="All of them, for printing or another program">
            <a className={classes.file} href={file('all', '3mf')} download>
              3MF
            </a>
          </Row>
          <p className={classes.hint}>
            In the order of opening. The surfaces of pieces and part make up the box to {(100 * build.error).toFixed(2)} %; volumes are
            shared out so that they make it up exactly.
          </p>
        </>
      )}
    </>
  )
}
