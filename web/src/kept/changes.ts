import {
  client,
  type Brief,
  type Ended,
  type Job,
  type Lot,
  type MasterChoice,
  type Material,
  type MaterialSheet,
  type Mould,
  type Order,
  type Practice,
  type Pull,
} from '../api/client'
import { cupboard } from './cupboard'
import { Outbox, type Change, type Outcome, type Waiting } from './outbox'
import type { components } from '../api/schema'

type NewPull = components['schemas']['NewPull']
type NewMould = components['schemas']['NewMould']
type NewLot = components['schemas']['NewLot']
type NewMove = components['schemas']['NewMove']
type NewMeasurement = components['schemas']['NewMeasurement']

const ofJob = (job: { id: string }) => ({ jobId: job.id })

/** Every change that the page makes of the shop's records, but for uploads and designs. */
export const changes = {
  addJob: (order: Order): Change => ({ what: `New job: ${order.name}`, method: 'POST', path: '/jobs', body: order }),
  mouldSet: (job: Job, sets: number): Change => ({
    what: `${job.order.set}, in one mould`,
    method: 'POST',
    path: '/jobs/{jobId}/set/mould',
    params: ofJob(job),
    body: { sets },
  }),
  addSample: (): Change => ({ what: 'The sample job afresh', method: 'POST', path: '/sample' }),
  keepOrder: (job: Job, order: Order): Change => ({
    what: `The order of ${order.name}`,
    method: 'PUT',
    path: '/jobs/{jobId}',
    params: ofJob(job),
    version: job.version,
    body: order,
  }),
  binJob: (job: { id: string; name: string }): Change => ({
    what: `${job.name} into the bin`,
    method: 'DELETE',
    path: '/jobs/{jobId}',
    params: ofJob(job),
  }),
  unbinJob: (job: { id: string; name: string }): Change => ({
    what: `${job.name} out of the bin`,
    method: 'DELETE',
    path: '/bin/{jobId}',
    params: ofJob(job),
  }),
  keepBrief: (job: Job, body: Brief): Change => ({
    what: `What is said of ${job.order.name}`,
    method: 'PUT',
    path: '/jobs/{jobId}/brief',
    params: ofJob(job),
    version: job.version,
    body,
  }),
  chooseMaster: (job: Job, body: MasterChoice): Change => ({
    what: `The master of ${job.order.name}`,
    method: 'PUT',
    path: '/jobs/{jobId}/master',
    params: ofJob(job),
    version: job.version,
    body,
  }),
  addMould: (job: Job, body: NewMould): Change => ({
    what: `Mould ${body.number}`,
    method: 'POST',
    path: '/jobs/{jobId}/moulds',
    params: ofJob(job),
    body,
  }),
  correctMould: (m: Mould, body: NewMould): Change => ({
    what: `Mould ${m.number}, corrected`,
    method: 'PUT',
    path: '/moulds/{mouldId}',
    params: { mouldId: m.id },
    version: m.version,
    body,
  }),
  retire: (m: Mould, retired: string | null, ended?: Ended): Change => ({
    what: retired ? `Mould ${m.number} retired` : `Mould ${m.number} back into use`,
    method: 'PUT',
    path: '/moulds/{mouldId}/retirement',
    params: { mouldId: m.id },
    body: { retired, ended },
  }),
  logPull: (m: Mould, body: NewPull): Change => ({
    what: `A pull from ${m.number}`,
    method: 'POST',
    path: '/moulds/{mouldId}/pulls',
    params: { mouldId: m.id },
    body,
  }),
  correctPull: (p: Pull, body: NewPull): Change => ({
    what: `A pull from ${p.mouldNumber}, corrected`,
    method: 'PUT',
    path: '/pulls/{pullId}',
    params: { pullId: p.id },
    version: p.version,
    body,
  }),
  strikePull: (p: Pull): Change => ({
    what: `A pull from ${p.mouldNumber}, struck`,
    method: 'DELETE',
    path: '/pulls/{pullId}',
    params: { pullId: p.id },
  }),
  unstrikePull: (p: Pull): Change => ({
    what: `A pull from ${p.mouldNumber}, counted again`,
    method: 'DELETE',
    path: '/pulls/{pullId}/struck',
    params: { pullId: p.id },
  }),
  addMaterial: (body: MaterialSheet): Change => ({ what: body.name, method: 'POST', path: '/materials', body }),
  keepMaterial: (m: Pick<Material, 'id' | 'version'>, body: MaterialSheet): Change => ({
    what: body.name,
    method: 'PUT',
    path: '/materials/{materialId}',
    params: { materialId: m.id },
    version: m.version,
    body,
  }),
  addLot: (m: Pick<Material, 'id' | 'name'>, body: NewLot): Change => ({
    what: `Lot ${body.name} of ${m.name}`,
    method: 'POST',
    path: '/materials/{materialId}/lots',
    params: { materialId: m.id },
    body,
  }),
  correctLot: (l: Lot, body: NewLot): Change => ({
    what: `Lot ${body.name}, corrected`,
    method: 'PUT',
    path: '/lots/{lotId}',
    params: { lotId: l.id },
    version: l.version,
    body,
  }),
  moveLot: (l: Lot, body: NewMove): Change => ({
    what: `Lot ${l.name}, ${body.what === 'counted' ? 'counted' : 'thrown away'}`,
    method: 'POST',
    path: '/lots/{lotId}/moves',
    params: { lotId: l.id },
    body,
  }),
  addMeasured: (body: NewMeasurement): Change => ({ what: `Measured: ${body.material}`, method: 'POST', path: '/measured', body }),
  strikeMeasured: (id: string): Change => ({
    what: 'A measurement, struck',
    method: 'DELETE',
    path: '/measured/{measuredId}',
    params: { measuredId: id },
  }),
  unstrikeMeasured: (id: string): Change => ({
    what: 'A measurement, counted again',
    method: 'DELETE',
    path: '/measured/{measuredId}/struck',
    params: { measuredId: id },
  }),
  strikePhoto: (id: string): Change => ({
    what: 'A picture, taken away',
    method: 'DELETE',
    path: '/photos/{photoId}',
    params: { photoId: id },
  }),
  unstrikePhoto: (id: string): Change => ({
    what: 'A picture, brought back',
    method: 'DELETE',
    path: '/photos/{photoId}/struck',
    params: { photoId: id },
  }),
  keepPractice: (version: number, body: Practice): Change => ({
    what: 'House practice',
    method: 'PUT',
    path: '/shop/practice',
    version,
    body,
  }),
}

type AnyCall = (path: string, init: unknown) => Promise<{ data?: unknown }>

async function post(c: Waiting): Promise<unknown> {
  const header = { 'Idempotency-Key': c.key, ...(c.version === undefined ? {} : { 'If-Match': `"${c.version}"` }) }
  const { data } = await (client[c.method] as AnyCall)(c.path, {
    params: { path: c.params, header },
    body: c.body,
    signal: AbortSignal.timeout(patience),
  })
  return data
}

/** How long a change waits for its answer before it is sent again, ms; the others wait behind it. */
const patience = 40_000

const ears = { sent: new Set<(c: Waiting) => void>(), refused: new Set<(c: Waiting) => void>() }

export const outbox = new Outbox({
  cupboard,
  post,
  sent: (c) => ears.sent.forEach((e) => e(c)),
  refused: (c) => ears.refused.forEach((e) => e(c)),
})

/** Hears of changes that had waited. */
export function hear(on: keyof typeof ears, ear: (c: Waiting) => void) {
  ears[on].add(ear)
  return () => void ears[on].delete(ear)
}

/** Makes a change, or keeps it until the server answers; rejects with what the server says against it. */
export const make = (change: Change): Promise<Outcome> => outbox.send(change)
