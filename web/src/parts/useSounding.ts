import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { client, type Axis, type Build, type Job, type Rise, type Study } from '../api/client'
import { along, dir, levelAxes, span } from './axes'
import type { Cut } from './Sounding'
import { useAddressed } from './useAddressed'
import { useKeys } from './useKeys'
import { shapeKey } from './viewer/shapeKey'

/** The section plane and the level of a pour, moved by hand or by keys. */
export function useSounding(job: Job, study: Study | undefined, rise: Rise | undefined, draw: Axis, build?: Build | null) {
  const [cutText, setCutText] = useAddressed(job.id, 'cut')
  const [levelText, setLevelText] = useAddressed(job.id, 'level')
  const wantedCut = useMemo(() => readCut(cutText), [cutText])
  const setCut = (c: Cut) => setCutText(`${c.axis[0] === '-' ? '-' : ''}${c.axis[1]}${c.offset.toFixed(3)}`)
  const up = rise?.up
  const settled = study && up ? settledCut(wantedCut, up, draw, study) : undefined
  const [cutAcross, cutAt] = [settled?.axis, settled?.offset]
  const cut = useMemo(
    () => (cutAcross !== undefined && cutAt !== undefined ? { axis: cutAcross, offset: cutAt } : undefined),
    [cutAcross, cutAt],
  )
  const count = rise?.heights.length ?? 0
  const wantedLevel = levelText === null || !rise ? -1 : nearest(rise.heights, Number(levelText))
  const level = Math.min(wantedLevel >= 0 ? wantedLevel : startLevel(rise), Math.max(0, count - 1))
  const setLevel = (index: number) => rise && index in rise.heights && setLevelText(rise.heights[index].toFixed(2))
  const stepLevel = (by: number) => setLevel(Math.min(count - 1, Math.max(0, level + by)))
  useKeys([
    ['[', () => stepLevel(-1)],
    [']', () => stepLevel(1)],
    ['shift+[', () => stepLevel(-10)],
    ['shift+]', () => stepLevel(10)],
  ])
  // the pieces of the kept design, once it is divided; another design is cut anew
  const section = useQuery({
    queryKey: [
      'section',
      job.id,
      shapeKey(job),
      study?.mould.kind,
      study?.mould.places,
      study?.mould.box.low,
      study?.mould.box.high,
      build?.key,
      cut?.axis,
      cut?.offset.toFixed(2),
    ],
    enabled: cut !== undefined && job.master !== undefined,
    queryFn: async ({ signal }) =>
      (
        await client.GET('/jobs/{jobId}/section', {
          params: { path: { jobId: job.id }, query: { axis: cut!.axis, offset: cut!.offset, divided: !!build } },
          signal,
        })
      ).data!,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: (previous) => previous,
  })
  const reach = (axis: Axis) => (study ? span(study.mould.box.low, study.mould.box.high, dir(axis)) : [0, 0])
  return {
    cut,
    level,
    setLevel,
    section: section.data,
    setOffset: (offset: number) => cut && setCut({ axis: cut.axis, offset }),
    moveCut: (steps: number) => {
      if (!cut) return
      const [low, high] = reach(cut.axis)
      setCut({ axis: cut.axis, offset: Math.min(high, Math.max(low, cut.offset + (steps * (high - low)) / 100)) })
    },
    turnCut: () => {
      if (!cut || !up) return
      const other = levelAxes(up).find((a) => !along(a, cut.axis))!
      const [low, high] = reach(other)
      setCut({ axis: other, offset: (low + high) / 2 })
    },
    /** Leads the plane through a place and the level just past a height. */
    show: (where: readonly number[], height?: number) => {
      if (!cut) return
      const n = dir(cut.axis)
      setCut({ axis: cut.axis, offset: where[0] * n[0] + where[1] * n[1] + where[2] * n[2] })
      const past = height === undefined ? -1 : (rise?.heights.findIndex((h) => h > height) ?? -1)
      if (past >= 0) setLevel(past)
    },
  }
}

/** A plane as the address has it: the axis it is square to, and where; null for what is none. */
function readCut(text: string | null): Cut | null {
  const parts = /^(-?)([xyz])(-?\d+(?:\.\d+)?)$/.exec(text ?? '')
  return parts && { axis: `${parts[1] || '+'}${parts[2]}` as Axis, offset: Number(parts[3]) }
}

/** Which of rising heights is nearest to one; -1 where there are none. */
function nearest(heights: number[], to: number): number {
  let best = -1
  heights.forEach((h, i) => {
    if (best < 0 || Math.abs(h - to) < Math.abs(heights[best] - to)) best = i
  })
  return Number.isFinite(to) ? best : -1
}

/** The plane along the parting, where the most is seen, until the caster moves it. */
function settledCut(wanted: Cut | null, up: Axis, draw: Axis, study: Study): Cut {
  const level = levelAxes(up)
  if (wanted && level.includes(wanted.axis)) return wanted
  const size = (a: Axis) => {
    const [low, high] = span(study.mould.box.low, study.mould.box.high, dir(a))
    return high - low
  }
  const axis = size(level[0]) <= size(level[1]) ? level[0] : level[1]
  const [low, high] = span(study.mould.box.low, study.mould.box.high, dir(axis))
  const offset = along(axis, draw) ? study.mould.parting * (draw[0] === '-' ? -1 : 1) : (low + high) / 2
  return { axis, offset: offset + 0.013 } // off the part's own plane of symmetry, where facets lie
}

/** Where the level stands at first: just past the last pocket, or most of the way up the part. */
function startLevel(rise: Rise | undefined): number {
  if (!rise) return 0
  const seals = rise.pockets.map((p) => p.sealHeight)
  const target = seals.some((s) => s > rise.partLow + 1) ? Math.max(...seals) + 1.2 : rise.partHigh * 0.8 + rise.partLow * 0.2
  const past = rise.heights.findIndex((h) => h >= target)
  return past < 0 ? Math.max(0, rise.heights.length - 1) : past
}
