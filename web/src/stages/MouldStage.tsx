import { SegmentedControl, Tabs } from '@mantine/core'
import { lazy, Suspense, useMemo, useState } from 'react'
import type { Point, Rise } from '../api/client'
import { DesignStage } from './DesignStage'
import { BoxPanel } from './mould/BoxPanel'
import { own, Supports, type Placing } from './mould/Supports'
import { PartingLine } from './mould/PartingLine'
import { useAddressed } from '../parts/useAddressed'
import type { StageProps } from './stages'
import { useDesign } from './useDesign'
import { firstFollowed, useMould, useRises } from './useMould'

const BuildBoard = lazy(() => import('./mould/BuildBoard').then((m) => ({ default: m.BuildBoard })))
const BuildPanel = lazy(() => import('./mould/BuildPanel').then((m) => ({ default: m.BuildPanel })))
const GangPanel = lazy(() => import('./mould/GangPanel').then((m) => ({ default: m.GangPanel })))
const PiecesPanel = lazy(() => import('./mould/PiecesPanel').then((m) => ({ default: m.PiecesPanel })))

const tabs = ['box', 'pieces', 'gang', 'build']

/** Mould: kind, draw, ways up, parting, box, pieces and cavities, and what is done for it at the bench. */
export function MouldStage({ job }: StageProps) {
  const { study, set, tryOut } = useDesign()
  const [apart, setApart] = useState<'apart' | 'together'>('apart')
  const [picked, setPour] = useState<number | null>(null)
  const [kept, setTab] = useAddressed(job.id, 'mould')
  const tab = tabs.includes(kept ?? '') ? kept : 'box'
  const work = useMould(job)
  const [placing, setPlacing] = useState<Placing | null>(null)
  const [leading, setLeading] = useState<number | null>(null)
  const [shown, setShown] = useState<Point | null>(null)
  const points = study?.hold?.points
  const spots = useMemo(() => (shown ? [shown] : points?.map((p) => p.at)), [shown, points])
  const rises = useRises(work)
  const pour = Math.min(picked ?? firstFollowed(rises), rises.length - 1)
  const rise = rises[pour] as Rise | undefined
  return (
    <DesignStage
      job={job}
      stage="mould"
      rise={rise}
      pour={{ liquid: 'rubber', name: rise?.name ?? '' }}
      show={apart}
      build={work.build}
      onParting={(parting, done) => {
        if (done) set({ parting })
        else tryOut({ parting })
      }}
      view={
        tab === 'box'
          ? {
              adding: placing !== null || leading !== null,
              onAdd: (at) => {
                if (placing) {
                  const before = study?.hold?.points.filter((p) => !p.rod) ?? []
                  set({ supports: own([...before, { ...placing, at }]) })
                }
                if (leading !== null) set((now) => ({ line: [...(now.line ?? []), { at, reach: leading }] }))
                setPlacing(null)
                setLeading(null)
              },
              show: placing || leading !== null ? 'part' : apart,
              spots,
            }
          : undefined
      }
      instead={
        tab === 'build' ? (
          <Suspense fallback={null}>
            <BuildBoard job={job} work={work} />
          </Suspense>
        ) : undefined
      }
      found={(all) => work.build?.findings.filter((f) => f.stage === 'mould') ?? all}
      settled={
        work.build
          ? work.build.mould.known
            ? 'The mould comes off the part, and the rubber reaches everywhere.'
            : 'As far as its measures tell, nothing speaks against it.'
          : work.broken
            ? 'Not worked out: the reason stands beside.'
            : 'Dividing the rubber…'
      }
      unsettled={!work.build}
      caption={
        <>
          <h2>The mould</h2>
          <SegmentedControl
            size="xs"
            aria-label="Pieces shown"
            value={apart}
            onChange={(v) => setApart(v as 'apart' | 'together')}
            data={[
              { value: 'apart', label: 'drawn apart' },
              { value: 'together', label: 'closed' },
            ]}
          />
          {rises.length > 1 && (
            <SegmentedControl
              size="xs"
              aria-label="Rubber pour shown"
              value={String(pour)}
              onChange={(v) => setPour(Number(v))}
              data={rises.map((r, i) => ({ value: String(i), label: `${r.name[0].toLowerCase()}${r.name.slice(1)}` }))}
            />
          )}
        </>
      }
      side={
        <>
          <Tabs value={tab} onChange={(t) => setTab(t)}>
            <Tabs.List aria-label="What is laid out">
              <Tabs.Tab value="box">Box</Tabs.Tab>
              <Tabs.Tab value="pieces">Pieces</Tabs.Tab>
              <Tabs.Tab value="gang">Gang</Tabs.Tab>
              <Tabs.Tab value="build">Build</Tabs.Tab>
            </Tabs.List>
          </Tabs>
          <Suspense fallback={null}>
            {tab === 'gang' && <GangPanel job={job} />}
            {tab === 'pieces' && <PiecesPanel job={job} work={work} />}
            {tab === 'build' && <BuildPanel job={job} work={work} />}
          </Suspense>
          {tab === 'box' && (
            <BoxPanel
              job={job}
              work={work}
              supports={<Supports placing={placing} setPlacing={setPlacing} show={setShown} />}
              line={<PartingLine leading={leading} setLeading={setLeading} show={setShown} />}
            />
          )}
        </>
      }
    />
  )
}
