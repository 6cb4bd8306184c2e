import { useQueries } from '@tanstack/react-query'
import { useEffect, useMemo } from 'react'
import { EdgesGeometry, FrontSide, type BufferGeometry } from 'three'
import { useThree } from '@react-three/fiber'
import { asProblem, type Job, type PiecedMould } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import { useChartMaterial } from './chart'
import { readGeometry } from './geometry'

interface Props {
  job: Job
  mould: PiecedMould
  halvesOnly: boolean
  size: number
  tokens: Tokens
  apart: boolean
}

/** The pieces of a mould, closed or each moved along its own draw. */
export function Pieces({ job, mould, halvesOnly, size, tokens, apart }: Props) {
  const { invalidate } = useThree()
  const loaded = useQueries({
    queries: mould.pieces.map((_, i) => ({
      queryKey: ['piece', mould.key, i],
      staleTime: Infinity,
      gcTime: 60_000,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const response = await fetch(`/api/jobs/${job.id}/pieces/${i}/geometry?halvesOnly=${halvesOnly}`, { signal })
        if (!response.ok) throw asProblem(await response.json().catch(() => null))
        const flat = readGeometry(await response.arrayBuffer()).toNonIndexed() // edges of rubber are sharp
        flat.computeVertexNormals()
        return flat
      },
    })),
  })
  const count = loaded.filter((l) => l.data).length
  useEffect(() => invalidate(), [count, apart, invalidate])
  const sides = mould.pieces.length - 2
  return (
    <>
      {mould.pieces.map((p, i) => {
        const geometry = loaded[i].data
        if (!geometry) return null
        const far = apart ? size * (i < sides ? 0.2 : 0.4) : 0
        const move = p.draw.map((x) => x * far) as [number, number, number]
        const tint = i < sides ? tokens['resin-1'] : i === sides ? tokens.rubber : tokens['rubber-b']
        return <Piece key={p.name} geometry={geometry} move={move} tint={tint} tokens={tokens} />
      })}
    </>
  )
}

function Piece({ geometry, move, tint, tokens }: { geometry: BufferGeometry; move: [number, number, number]; tint: string; tokens: Tokens }) {
  const material = useChartMaterial({ tokens, dry: tint, up: [0, 0, 1], floor: 0, level: -1e9, low: 0, interval: 0, side: FrontSide })
  const edges = useMemo(() => new EdgesGeometry(geometry, 50), [geometry])
  return (
    <group position={move}>
      <mesh geometry={geometry} material={material} raycast={() => undefined} />
      <lineSegments geometry={edges}>
        <lineBasicMaterial color={tokens.ink} transparent opacity={0.7} />
      </lineSegments>
    </group>
  )
}
