import { useQueries } from '@tanstack/react-query'
import { useEffect } from 'react'
import { FrontSide } from 'three'
import { useThree } from '@react-three/fiber'
import { asProblem, type Build, type Job } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import { useChartMaterial } from './chart'
import { readDrawing, type Drawing } from './geometry'

interface Props {
  job: Job
  build: Build
  tokens: Tokens
  apart: boolean
}

/** The pieces of a mould, closed or each moved along its own draw. */
export function Pieces({ job, build, tokens, apart }: Props) {
  const { invalidate } = useThree()
  const loaded = useQueries({
    queries: build.pieces.map((_, i) => ({
      queryKey: ['piece', build.key, i],
      staleTime: Infinity,
      gcTime: 60_000,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const response = await fetch(`/api/jobs/${job.id}/rubber/${i}/geometry?kind=${build.mould.kind}`, { signal })
        if (!response.ok) throw asProblem(await response.json().catch(() => null))
        const drawing = readDrawing(await response.arrayBuffer())
        const surface = drawing.surface.toNonIndexed() // edges of rubber are sharp
        surface.computeVertexNormals()
        return { ...drawing, surface }
      },
    })),
  })
  const count = loaded.filter((l) => l.data).length
  useEffect(() => invalidate(), [count, apart, invalidate])
  const sides = Math.max(0, build.pieces.length - 2)
  const size = farApart(build.mould.box)
  return (
    <>
      {build.pieces.map((p, i) => {
        const drawing = loaded[i].data
        if (!drawing) return null
        const far = apart ? size * (i < sides ? 0.2 : 0.4) : 0
        const move = p.draw.map((x) => x * far) as [number, number, number]
        const tint = i < sides ? tokens['resin-1'] : i === sides ? tokens.rubber : tokens['rubber-b']
        return (
          <Piece
            key={p.name}
            drawing={drawing}
            move={move}
            tint={tint}
            hatched={i === sides && build.pieces.length > 1}
            up={p.draw}
            tokens={tokens}
          />
        )
      })}
    </>
  )
}

/** By how much pieces are moved apart: the mould's longest side, but no more than three times its shortest. */
function farApart(box: Build['mould']['box']): number {
  const sides = box.high.map((h, i) => h - box.low[i])
  return Math.min(Math.max(...sides), 3 * Math.min(...sides))
}

interface PieceProps {
  drawing: Drawing
  move: [number, number, number]
  tint: string
  /** Half A is hatched, as it is in the section. */
  hatched: boolean
  up: readonly number[]
  tokens: Tokens
}

function Piece({ drawing, move, tint, hatched, up, tokens }: PieceProps) {
  const material = useChartMaterial({
    tokens,
    dry: tint,
    up: up as [number, number, number],
    floor: 0,
    level: -1e9,
    low: 0,
    interval: 0,
    hatched,
    side: FrontSide,
  })
  return (
    <group position={move}>
      <mesh geometry={drawing.surface} material={material} raycast={() => undefined} />
      <lineSegments geometry={drawing.creases}>
        <lineBasicMaterial color={tokens.ink} transparent opacity={0.7} />
      </lineSegments>
    </group>
  )
}
