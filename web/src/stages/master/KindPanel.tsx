import { KindTable } from '../KindTable'
import { useDesign } from '../useDesign'
import type { PanelProps } from './look'
import classes from './master.module.css'

/** Kind: every kind of mould built for this part, this order and this shop, the best first. */
export function KindPanel({ job, survey }: PanelProps) {
  const { study, set } = useDesign()
  return (
    <>
      <h2>Kind of mould</h2>
      {survey?.notWorth.map((why) => (
        <p key={why} className={classes.notWorth}>
          ▲ Perhaps not worth casting. {why}
        </p>
      ))}
      <KindTable job={job} at={study?.mould.kind} onPick={(kind) => set({ kind })} />
    </>
  )
}
