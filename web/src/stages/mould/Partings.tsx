import { Button, Loader, NativeSelect, SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import type { Design, Job, PartingRow, PartingSearch } from '../../api/client'
import { Num } from '../../parts/Num'
import { useSearch } from '../master/useSearch'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'
import { hash } from './useBuild'

type Gathered = PartingSearch & { rows: PartingRow[] }

/** Where the seam runs on walls, and what each way costs. */
export function Partings({ job }: { job: Job }) {
  const { design, set, keeping } = useDesign()
  const [asked, setAsked] = useState<string | null>(null)
  const version = hash(JSON.stringify([{ ...design, seam: null }, job.master?.mesh?.key]))
  const found = useSearch<Gathered>(asked === version && keeping !== 'keeping' ? `/api/jobs/${job.id}/searches/partings?v=${version}` : null,
    (sofar, news) => ({ ...news, rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []) }), () => setAsked(null))
  const seam = design.seam ?? 'middle'
  const pick = (v: string) => set({ seam: v as Design['seam'], parting: null })
  return (
    <>
      <NativeSelect size="xs" label="Plugs in holes end" value={design.holes ?? 'outside'} onChange={(e) => set({ holes: e.currentTarget.value as Design['holes'] })}
        data={[{ value: 'outside', label: 'at the level of the parting' }, { value: 'half', label: 'half way through' }, { value: 'top', label: 'flush with half A’s face' }, { value: 'bottom', label: 'flush with half B’s face' }]} />
      <div className={classes.gapped} />
      <SegmentedControl fullWidth size="xs" aria-label="Seam on walls" value={seam} onChange={pick}
        data={[{ value: 'middle', label: 'flattest' }, { value: 'top', label: 'upper edges' }, { value: 'bottom', label: 'lower edges' }]} />
      {asked !== version && <Button mt={6} fullWidth size="compact-xs" variant="default" onClick={() => setAsked(version)}>Compare these seams</Button>}
      {asked === version && !found?.finished && <p className={classes.progress} role="status"><Loader size="xs" /> {found?.stage || 'laying the next'}…</p>}
      {found && found.rows.length > 0 && (
        <table className={classes.compare} aria-label="Seams compared">
          <thead><tr><th>seam</th><th>length</th><th>off level</th><th>shows</th><th>min each</th></tr></thead>
          <tbody>
            {found.rows.map((r) => (
              <tr key={r.seam} data-at={r.seam === seam || undefined}>
                <td><Button size="compact-xs" variant="subtle" onClick={() => pick(r.seam)}>{r.name}</Button></td>
                <td><Num label={`Length, ${r.name}`} number={r.line} /></td>
                <td><Num label={`Off level, ${r.name}`} number={r.off} /></td>
                <td><Num label={`Share that shows, ${r.name}`} number={r.open} /></td>
                <td><Num label={`Finishing, ${r.name}`} number={r.finish} /></td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
