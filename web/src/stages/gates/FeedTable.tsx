import { Loader } from '@mantine/core'
import type { FeedRow, FeedSearch, Job } from '../../api/client'
import { Broken } from '../../parts/Broken'
import { Num } from '../../parts/Num'
import { useSearch } from '../../parts/useSearch'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

type Gathered = FeedSearch & { rows: FeedRow[] }

/** How each way is called. */
const names: Record<NonNullable<FeedRow['system']>, string> = {
  '': 'as proposed',
  each: 'each by itself',
  ring: 'ring of spokes',
  comb: 'comb',
  tree: 'tree',
  ladder: 'ladder',
}

/** How the cavities of a gang are fed: every way held against the others, to be chosen. */
export function FeedTable({ job, at }: { job: Job; at: FeedRow['system'] | undefined }) {
  const { design, kept, set } = useDesign()
  const { found, broken, again } = useSearch<Gathered>(
    kept === null ? null : `/api/jobs/${job.id}/searches/feeds?v=${encodeURIComponent(kept)}`,
    (sofar, news) => ({ ...news, rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []) }),
  )
  return (
    <>
      <div className={classes.head}>
        <h2>How the gang is fed</h2>
        {design.runners && (
          <button type="button" className="quiet" onClick={() => set({ runners: undefined, shaft: undefined })}>
            as proposed
          </button>
        )}
      </div>
      {!found?.finished && !broken && (
        <p role="status" className={classes.hint}>
          <Loader size="xs" /> Laying {found?.stage ? names[found.stage as FeedRow['system']] : 'them'}…
        </p>
      )}
      <Broken problem={broken} again={again} />
      <ul className={classes.feeds} aria-label="Ways to feed the gang">
        {(found?.rows ?? []).map((r) => (
          <li key={r.system} data-out={!!r.why || undefined} data-at={r.system === at || undefined}>
            <div className={classes.feedHead}>
              <strong>{names[r.system]}</strong>
              {!r.why && (
                <button
                  type="button"
                  className="quiet"
                  aria-pressed={r.system === at}
                  aria-label={`${r.system === at ? 'Chosen' : 'Choose'}: ${names[r.system]}`}
                  onClick={() => set({ runners: r.system, shaft: undefined })}
                >
                  {r.system === at ? 'chosen' : 'choose'}
                </button>
              )}
            </div>
            {r.why ? (
              <span className="soft">{r.why}</span>
            ) : (
              <p>
                <Num label={`Channels for a casting, ${names[r.system]}`} number={r.channels!} /> of channels a casting ·{' '}
                {r.spread && (
                  <>
                    last over first <Num label={`Spread, ${names[r.system]}`} number={r.spread} /> ·{' '}
                  </>
                )}
                {r.full && (
                  <>
                    full after <Num rough label={`Full, ${names[r.system]}`} number={r.full} /> min ·{' '}
                  </>
                )}
                <Num rough label={`Cutting off, ${names[r.system]}`} number={r.cut!} /> min to cut off ·{' '}
                <Num label={`Rubber, ${names[r.system]}`} number={r.rubber!} /> rubber
                {!r.fitsPot && ' · does not fit the pot'}
                {r.stops > 0 && ` · ◆ ${r.stops} to mend`}
              </p>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}
