import { Button, Loader, NativeSelect, SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import type { Design, Job, PartingRow, PartingSearch } from '../../api/client'
import { Num } from '../../parts/Num'
import { Broken } from '../../parts/Broken'
import { useSearch } from '../../parts/useSearch'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'

type Gathered = PartingSearch & { rows: PartingRow[] }

/** Where the parting line runs on walls, and what each way costs. */
export function Partings({ job }: { job: Job }) {
  const { design, set, kept } = useDesign()
  const [asked, setAsked] = useState(false)
  const { found, broken, again } = useSearch<Gathered>(
    asked && kept !== null ? `/api/jobs/${job.id}/searches/partings?v=${encodeURIComponent(kept)}` : null,
    (sofar, news) => ({
      ...news,
      rows: news.row ? [...(sofar?.rows ?? []), news.row] : (sofar?.rows ?? []),
    }),
  )
  const seam = design.seam ?? 'middle'
  const pick = (v: string) => set({ seam: v as Design['seam'], parting: null })
  return (
    <>
      <NativeSelect
        size="xs"
        label="Plugs in holes end"
        value={design.holes ?? 'outside'}
        onChange={(e) => set({ holes: e.currentTarget.value as Design['holes'] })}
        data={[
          { value: 'outside', label: 'at the level of the parting' },
          { value: 'half', label: 'half way through' },
          { value: 'top', label: 'flush with half A’s face' },
          { value: 'bottom', label: 'flush with half B’s face' },
        ]}
      />
      <div className={classes.gapped} />
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Parting line on walls"
        value={seam}
        onChange={pick}
        data={[
          { value: 'middle', label: 'flattest' },
          { value: 'top', label: 'upper edges' },
          { value: 'bottom', label: 'lower edges' },
        ]}
      />
      {!asked && (
        <Button mt={6} fullWidth size="compact-xs" variant="default" onClick={() => setAsked(true)}>
          Compare these lines
        </Button>
      )}
      {asked && !found?.finished && !broken && (
        <p className={classes.progress} role="status">
          <Loader size="xs" /> {found?.stage || 'laying the next'}…
        </p>
      )}
      <Broken problem={broken} again={again} />
      {found && found.rows.length > 0 && (
        <table className={classes.compare} aria-label="Parting lines compared">
          <thead>
            <tr>
              <th>line</th>
              <th>length</th>
              <th>off level</th>
              <th>shows</th>
              <th>min each</th>
            </tr>
          </thead>
          <tbody>
            {found.rows.map((r) => (
              <tr key={r.seam} data-at={r.seam === seam || undefined}>
                <td>
                  <Button size="compact-xs" variant="subtle" onClick={() => pick(r.seam)}>
                    {r.name}
                  </Button>
                </td>
                <td>
                  <Num label={`Length, ${r.name}`} number={r.line} />
                </td>
                <td>
                  <Num label={`Off level, ${r.name}`} number={r.off} />
                </td>
                <td>
                  <Num label={`Share that shows, ${r.name}`} number={r.open} />
                </td>
                <td>
                  <Num rough label={`Finishing, ${r.name}`} number={r.finish} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
