import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { BoxGeometry, BufferGeometry, EdgesGeometry, FrontSide, BackSide, Path, Plane, Shape, ShapeGeometry, Vector3, Matrix4, DoubleSide } from 'three'
import { client, type Axis, type Job, type Study } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import { dir, span } from '../axes'
import { useChartMaterial } from './chart'

interface Props {
  job: Job
  study: Study
  draw: Axis
  geometry: BufferGeometry
  tokens: Tokens
  apart: boolean
}

/** The two halves of the mould, closed or drawn apart with the part between them. */
export function Halves({ job, study, draw, geometry, tokens, apart }: Props) {
  const d = dir(draw)
  const { boxLow, boxHigh, parting } = study.mould
  const [low, high] = span(boxLow, boxHigh, d)
  const axis = ('+' + draw[1]) as Axis
  const sign = draw[0] === '-' ? -1 : 1
  const section = useQuery({
    queryKey: ['section', job.id, job.master?.mesh?.key, axis, (parting * sign).toFixed(3)],
    queryFn: async () => (await client.GET('/jobs/{jobId}/section', { params: { path: { jobId: job.id }, query: { axis, offset: parting * sign } } })).data!,
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  })
  const gap = apart ? (high - low) * 0.42 : 0
  return (
    <>
      <Half side={1} shift={gap} tint={tokens.rubber} hatched {...{ study, d, low, high, geometry, tokens, loops: section.data?.loops }} />
      <Half side={-1} shift={gap} tint={tokens['rubber-b']} {...{ study, d, low, high, geometry, tokens, loops: section.data?.loops }} />
    </>
  )
}

interface HalfProps {
  side: 1 | -1
  shift: number
  tint: string
  hatched?: boolean
  study: Study
  d: readonly [number, number, number]
  low: number
  high: number
  geometry: BufferGeometry
  tokens: Tokens
  loops: number[][] | undefined
}

function Half({ side, shift, tint, hatched = false, study, d, low, high, geometry, tokens, loops }: HalfProps) {
  const { boxLow, boxHigh, parting } = study.mould
  const far = side > 0 ? high : low
  const move: [number, number, number] = [d[0] * side * shift, d[1] * side * shift, d[2] * side * shift]

  const block = useMemo(() => {
    // the block from the parting to the end of the box, without the parting face
    const a = [...boxLow]
    const b = [...boxHigh]
    const k = d.findIndex((x) => x !== 0)
    const ends = [parting * d[k], far * d[k]].sort((x, y) => x - y)
    a[k] = ends[0]
    b[k] = ends[1]
    const g = new BoxGeometry(b[0] - a[0], b[1] - a[1], b[2] - a[2])
    g.translate((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2)
    const edges = new EdgesGeometry(g)
    const index = g.getIndex()!
    const normals = g.getAttribute('normal')
    const kept: number[] = []
    for (let i = 0; i < index.count; i += 3) {
      const v = index.getX(i)
      const facing = normals.getX(v) * d[0] + normals.getY(v) * d[1] + normals.getZ(v) * d[2]
      if (facing * side > -0.5) kept.push(index.getX(i), index.getX(i + 1), index.getX(i + 2))
    }
    g.setIndex(kept)
    return { g, edges }
  }, [boxLow, boxHigh, d, far, parting, side])

  const face = useMemo(() => {
    // the parting face with the part's outline cut out
    const k = d.findIndex((x) => x !== 0)
    const [u, v] = [(k + 1) % 3, (k + 2) % 3]
    const shape = new Shape()
    shape.moveTo(boxLow[u], boxLow[v]).lineTo(boxHigh[u], boxLow[v]).lineTo(boxHigh[u], boxHigh[v]).lineTo(boxLow[u], boxHigh[v]).closePath()
    const islands: Shape[] = []
    for (const loop of loops ?? []) {
      const path = new Path()
      let area = 0
      for (let i = 0; i + 2 < loop.length; i += 3) {
        const j = (i + 3) % loop.length
        area += loop[i + u] * loop[j + v] - loop[j + u] * loop[i + v]
        if (i === 0) path.moveTo(loop[i + u], loop[i + v])
        else path.lineTo(loop[i + u], loop[i + v])
      }
      if (area > 0) shape.holes.push(path)
      else islands.push(new Shape(path.getPoints()))
    }
    const g = new ShapeGeometry([shape, ...islands])
    const m = new Matrix4()
    const basis = [0, 1, 2].map((i) => new Vector3(i === 0 ? 1 : 0, i === 1 ? 1 : 0, i === 2 ? 1 : 0))
    m.makeBasis(basis[u], basis[v], basis[k])
    m.setPosition(basis[k].clone().multiplyScalar(parting * d[k]))
    g.applyMatrix4(m)
    return g
  }, [boxLow, boxHigh, d, loops, parting])

  const clip = useMemo(() => {
    const normal = new Vector3(d[0] * side, d[1] * side, d[2] * side)
    // keep what lies beyond the parting, moved along with the half
    return [new Plane(normal, -(parting * side + shift))]
  }, [d, side, parting, shift])

  const look = { tokens, dry: tint, up: d, floor: low, level: -1e9, low: 0, interval: 0, hatched }
  const outside = useChartMaterial({ ...look, side: FrontSide })
  const flat = useChartMaterial({ ...look, side: DoubleSide })
  const inside = useChartMaterial({ ...look, interval: 0, side: BackSide, clip })

  return (
    <group position={move}>
      <mesh geometry={block.g} material={outside} />
      <mesh geometry={face} material={flat} />
      <mesh geometry={geometry} material={inside} />
      <lineSegments geometry={block.edges}>
        <lineBasicMaterial color={tokens.ink} />
      </lineSegments>
    </group>
  )
}
