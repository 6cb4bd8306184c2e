import { Button } from '@mantine/core'
import { Num, Qty } from '../../parts/Num'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { useBrief } from './useBrief'

/** Kind: every kind of mould held against this part, this order and this shop. */
export function KindPanel({ job, survey, refresh }: PanelProps) {
  const put = useBrief({ job, refresh })
  if (!survey) return <p className={classes.hint}>Weighing the kinds of mould…</p>
  return (
    <>
      <h2>Kind of mould</h2>
      {survey.notWorth.map((why) => (
        <p key={why} className={classes.notWorth}>▲ Perhaps not worth casting. {why}</p>
      ))}
      <ol className={classes.kinds}>
        {survey.kinds.map((k) => {
          const chosen = job.brief.kind === k.kind
          return (
            <li key={k.kind} data-chosen={chosen || undefined} data-out={!k.possible || undefined}>
              <div className={classes.kindHead}>
                <strong>{k.name}</strong>
                <Button size="compact-xs" variant={chosen ? 'filled' : 'default'} aria-pressed={chosen} aria-label={`${chosen ? 'Chosen' : 'Choose'}: ${k.name}`} onClick={() => put(() => ({ kind: chosen ? undefined : k.kind }))}>
                  {chosen ? 'chosen' : 'choose'}
                </Button>
              </div>
              <p className="soft">{k.what}</p>
              {k.possible && (
                <p className={classes.figures}>
                  <Num label={`Rubber, ${k.name}`} number={k.rubber} /> rubber · <Num label={`Hours, ${k.name}`} number={k.hours} /> to the first pull · {k.pieces === 1 ? '1 piece' : `${k.pieces} pieces`} · seam <Qty value={k.seam} kind="length" /> · {k.moulds === 1 ? '1 mould' : `${k.moulds} moulds`}
                </p>
              )}
              <ul>
                {k.for.map((r) => <li key={r} className={classes.pro}>+ {r}</li>)}
                {k.against.map((r) => <li key={r} className={classes.con}>− {r}</li>)}
              </ul>
            </li>
          )
        })}
      </ol>
    </>
  )
}
