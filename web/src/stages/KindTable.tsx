import { Loader } from '@mantine/core'
import type { Job, KindRow, KindSearch } from '../api/client'
import { Broken } from '../parts/Broken'
import { Num } from '../parts/Num'
import { useSearch } from '../parts/useSearch'
import classes from './KindTable.module.css'
import { moment } from './mould/BuildPanel'
import { useDesign } from './useDesign'

type Gathered = KindSearch & { rows: KindRow[] }

interface Props {
  job: Job
  /** The kind that the design is built as. */
  at: string | undefined
  onPick: (kind: string) => void
}

/** Which kind of mould: every one built for this design, the best first. What it shows here it shows everywhere. */
export function KindTable({ job, at, onPick }: Props) {
  const { kept } = useDesign()
  const { found, broken, again } = useSearch<Gathered>(
    kept === null ? null : `/api/jobs/${job.id}/searches/kinds?v=${encodeURIComponent(kept)}`,
    (sofar, news) => ({
      ...news,
      rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []),
    }),
  )
  const rows = [...(found?.rows ?? [])].sort(
    (a, b) => Number(b.fits) - Number(a.fits) || (a.score?.value ?? Infinity) - (b.score?.value ?? Infinity),
  )
  return (
    <>
      {!found?.finished && !broken && (
        <p role="status" className={classes.status}>
          <Loader size="xs" /> {found?.stage ?? 'beginning'}…
        </p>
      )}
      <Broken problem={broken} again={again} />
      <ol className={classes.kinds}>
        {rows.map((r) => (
          <li key={r.kind} data-at={r.kind === at || undefined} data-out={!r.fits || undefined}>
            <div className={classes.head}>
              <strong>{r.name}</strong>
              {r.rubber && (
                <button
                  type="button"
                  className="quiet"
                  disabled={!found?.finished} // rows still change places under the hand
                  aria-pressed={r.kind === at}
                  aria-label={`${r.kind === at ? 'Chosen' : 'Choose'}: ${r.name}`}
                  onClick={() => onPick(r.kind)}
                >
                  {r.kind === at ? 'chosen' : 'choose'}
                </button>
              )}
            </div>
            {r.rubber && (
              <p className={classes.figures}>
                <Num label={`Rubber as ${r.name}`} number={r.rubber} /> rubber · <Num label={`Moulds as ${r.name}`} number={r.moulds!} />{' '}
                {r.moulds!.value === 1 ? 'mould' : 'moulds'} · <Num label={`To the first casting as ${r.name}`} number={r.first!} /> to the
                first casting
                {r.firstPull && <>, {moment(r.firstPull)}</>} · <Num rough label={`Finishing as ${r.name}`} number={r.finish!} /> min
                finishing · order as <Num label={`Order as ${r.name}`} number={r.effort!} /> · score{' '}
                <Num label={`Score of ${r.name}`} number={r.score!} />
              </p>
            )}
            <ul>
              {r.why.map((w, i) => (
                <li key={w} className={!r.fits && i === 0 ? classes.stop : classes.why}>
                  {!r.fits && i === 0 && '◆ '}
                  {w}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      <p className="soft">
        The least score is the best: hours of the whole order, with rubber, waiting and scrap counted as hours; open one to see how. Minutes
        are common practice, no source.
      </p>
    </>
  )
}
