import { useQuery } from '@tanstack/react-query'
import { BufferAttribute, BufferGeometry, Color } from 'three'
import { asProblem, type Job } from '../../api/client'

/** Reads the mesh as the contract lays it out. */
export function readGeometry(data: ArrayBuffer): BufferGeometry {
  const [vertices, triangles] = new Uint32Array(data, 0, 2)
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(new Float32Array(data, 8, vertices * 3), 3))
  geometry.setIndex(new BufferAttribute(new Uint32Array(data, 8 + vertices * 12, triangles * 3), 1))
  geometry.computeVertexNormals()
  geometry.computeBoundingBox()
  geometry.computeBoundingSphere()
  return geometry
}

/** The same mesh with each triangle in a colour of its own. */
export function paintedGeometry(geometry: BufferGeometry, faces: Uint8Array, colours: readonly string[]): BufferGeometry {
  const out = geometry.toNonIndexed()
  const values = colours.map((c) => new Color(c))
  const paint = new Float32Array(faces.length * 9)
  for (let f = 0; f < faces.length; f++) {
    const c = values[faces[f]] ?? values[0]
    for (let k = 0; k < 3; k++) c.toArray(paint, f * 9 + k * 3)
  }
  out.setAttribute('paint', new BufferAttribute(paint, 3))
  return out
}

/** Names a master's shape: it changes whenever that does. A master known by its measures is the block of them. */
export const shapeKey = (job: Job) => job.master?.mesh?.key ?? `${job.id} ${job.master?.size.join(' ')}`

/** The master's mesh in mm, loaded once for each shape and unit. */
export function useGeometry(job: Job) {
  const key = shapeKey(job)
  return useQuery({
    queryKey: ['geometry', key],
    enabled: job.master !== undefined,
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      const response = await fetch(`/api/jobs/${job.id}/geometry?v=${encodeURIComponent(key)}`, { signal })
      if (!response.ok) throw asProblem(await response.json().catch(() => null))
      return readGeometry(await response.arrayBuffer())
    },
  })
}
