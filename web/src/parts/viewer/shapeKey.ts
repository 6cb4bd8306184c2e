import type { Job } from '../../api/client'

/** Names a master's shape: it changes whenever that does. A master known by its measures is the block of them. */
export const shapeKey = (job: Job) => job.master?.mesh?.key ?? `${job.id} ${job.master?.size.join(' ')}`
