import { SegmentedControl, Tabs } from '@mantine/core'
import { useCallback, useState } from 'react'
import type { PiecedMould } from '../api/client'
import { DesignStage } from './DesignStage'
import { BoxPanel } from './mould/BoxPanel'
import { BuildBoard } from './mould/BuildBoard'
import { BuildPanel } from './mould/BuildPanel'
import { GangPanel } from './mould/GangPanel'
import { PiecesPanel } from './mould/PiecesPanel'
import { useBuild } from './mould/useBuild'
import type { StageProps } from './stages'
import { useDesign } from './useDesign'

/** Mould: draw, ways up, parting, box, and the rubber of each half. */
export function MouldStage({ job }: StageProps) {
  const { study, studying, set, tryOut } = useDesign()
  const [apart, setApart] = useState<'apart' | 'together'>('apart')
  const [half, setHalf] = useState<0 | 1>(0)
  const [tab, setTab] = useState<string>('box')
  const [pieces, setPieces] = useState<{ mould: PiecedMould; halvesOnly: boolean } | null>(null)
  const found = useCallback((mould: PiecedMould | null, halvesOnly: boolean) => setPieces(mould && { mould, halvesOnly }), [])
  const plan = study?.mould
  const work = useBuild(job, tab === 'build')
  const building = tab === 'build' && job.master?.kind === 'mesh'
  const shown = tab === 'pieces' && pieces ? pieces : undefined
  return (
    <DesignStage
      job={job}
      stage="mould"
      rise={plan?.pours[half]}
      pour={{ liquid: 'rubber', half }}
      show={apart}
      view={{ pieces: shown }}
      onParting={(parting, settled) => {
        if (settled) set({ parting })
        else if (!studying) tryOut({ parting })
      }}
      instead={building ? <BuildBoard job={job} work={work} /> : undefined}
      found={(all) => (building ? (work.build?.findings ?? []) : shown ? [...all.filter((f) => !f.remedies.some((r) => r.action === 'divide')), ...shown.mould.findings] : all)}
      onRemedy={(r) => {
        if (r.action === 'divide' && building) set({ kind: 'three-piece' })
        else if (r.action === 'divide') setTab('pieces')
        return r.action === 'divide'
      }}
      settled="The halves come off the part, and the rubber reaches everywhere."
      caption={
        <>
          <h2>The mould</h2>
          <SegmentedControl
            size="xs"
            aria-label="Halves"
            value={apart}
            onChange={(v) => setApart(v as 'apart' | 'together')}
            data={[
              { value: 'apart', label: 'drawn apart' },
              { value: 'together', label: 'closed' },
            ]}
          />
          <SegmentedControl
            size="xs"
            aria-label="Rubber pour shown"
            value={String(half)}
            onChange={(v) => setHalf(v === '1' ? 1 : 0)}
            data={[
              { value: '0', label: 'pour of half A' },
              { value: '1', label: 'pour of half B' },
            ]}
          />
        </>
      }
      side={
        <>
          <Tabs value={tab} onChange={(t) => setTab(t ?? 'box')}>
            <Tabs.List aria-label="What is laid out">
              <Tabs.Tab value="box">Box</Tabs.Tab>
              <Tabs.Tab value="pieces">Pieces</Tabs.Tab>
              <Tabs.Tab value="gang">Gang</Tabs.Tab>
              <Tabs.Tab value="build">Build</Tabs.Tab>
            </Tabs.List>
          </Tabs>
          {tab === 'gang' && <GangPanel job={job} />}
          {tab === 'pieces' && <PiecesPanel job={job} onFound={found} />}
          {tab === 'build' && <BuildPanel job={job} work={work} />}
          {tab === 'box' && <BoxPanel job={job} />}
        </>
      }
    />
  )
}
