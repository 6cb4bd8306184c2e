import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { BufferAttribute, BufferGeometry, Color } from 'three'
import { asProblem, type Job } from '../../api/client'
import { shapeKey } from './shapeKey'

/** A mesh as the server has it drawn. */
export interface Drawing {
  surface: BufferGeometry
  /** The lines where its faces meet sharply. */
  creases: BufferGeometry
  /** Which triangle of the mesh each one stands for, where there are fewer of these. */
  of: Uint32Array | null
}

/** A ball to look at closely: its middle and radius in mm. */
export type Near = readonly [number, number, number, number]

/** Reads a drawing as the contract lays it out. */
export function readDrawing(data: ArrayBuffer): Drawing {
  const [vertices, triangles, creases, sources] = new Uint32Array(data, 0, 4)
  let at = 16
  const take = <T>(kind: new (data: ArrayBuffer, at: number, count: number) => T, count: number) => {
    const out = new kind(data, at, count)
    at += 4 * count
    return out
  }
  const position = new BufferAttribute(take(Float32Array, 3 * vertices), 3)
  const surface = new BufferGeometry()
  surface.setAttribute('position', position)
  surface.setIndex(new BufferAttribute(take(Uint32Array, 3 * triangles), 1))
  surface.computeVertexNormals()
  surface.computeBoundingBox()
  surface.computeBoundingSphere()
  const lines = new BufferGeometry()
  lines.setAttribute('position', position)
  lines.setIndex(new BufferAttribute(take(Uint32Array, 2 * creases), 1))
  return { surface, creases: lines, of: sources > 0 ? take(Uint32Array, sources) : null }
}

/** The same mesh with each triangle in a colour of its own; null where the colours are another mesh's. */
export function paintedSurface({ surface, of }: Drawing, faces: Uint8Array, colours: readonly string[]): BufferGeometry | null {
  const count = surface.index!.count / 3
  if (of ? of[count - 1] >= faces.length : faces.length !== count) return null
  const out = surface.toNonIndexed()
  const values = colours.map((c) => new Color(c))
  const paint = new Float32Array(count * 9)
  for (let f = 0; f < count; f++) {
    const c = values[faces[of ? of[f] : f]] ?? values[0]
    for (let k = 0; k < 3; k++) c.toArray(paint, f * 9 + k * 3)
  }
  out.setAttribute('paint', new BufferAttribute(paint, 3))
  return out
}

/** The master drawn, loaded once for each shape and unit; what is looked at closely is drawn more finely as soon as that has come. */
export function useDrawing(job: Job, near: Near | null) {
  const key = shapeKey(job)
  const ask = (near: Near | null) => ({
    queryKey: ['drawing', key, near],
    staleTime: Infinity,
    queryFn: async ({ signal }: { signal: AbortSignal }) => {
      const closely = near ? `&near=${near.join()}` : ''
      const response = await fetch(`/api/jobs/${job.id}/geometry?v=${encodeURIComponent(key)}${closely}`, { signal })
      if (!response.ok) throw asProblem(await response.json().catch(() => null))
      return readDrawing(await response.arrayBuffer())
    },
  })
  const whole = useQuery({ ...ask(null), enabled: job.master !== undefined })
  const thinned = whole.data?.of != null
  const closely = useQuery({ ...ask(near), enabled: near !== null && thinned, gcTime: 60_000, placeholderData: keepPreviousData })
  return { drawing: (near && thinned && closely.data) || whole.data, error: whole.error, thinned }
}
