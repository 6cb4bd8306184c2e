import { useQuery } from '@tanstack/react-query'
import { BufferAttribute, BufferGeometry } from 'three'
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

/** The master's mesh in mm, loaded once for each shape and unit. */
export function useGeometry(job: Job) {
  const key = job.master?.mesh?.key
  return useQuery({
    queryKey: ['geometry', key],
    enabled: key !== undefined,
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      const response = await fetch(`/api/jobs/${job.id}/geometry?v=${key}`, { signal })
      if (!response.ok) throw asProblem(await response.json().catch(() => null))
      return readGeometry(await response.arrayBuffer())
    },
  })
}
