import createFetchClient, { type Middleware } from 'openapi-fetch'
import createQueryClient from 'openapi-react-query'
import { reach } from '../kept/reach'
import { hearClock } from '../parts/day'
import { whole, type Derived, type Whole } from './numbers'
import type { components, paths } from './schema'

type Schemas = Whole<components['schemas']>
export type { Derived }
export type Job = Schemas['Job']
export type Order = Schemas['Order']
export type Master = Schemas['Master']
export type MasterChoice = Schemas['MasterChoice']
export type Design = Schemas['Design']
export type Study = Schemas['Study']
export type Finding = Schemas['Finding']
export type Remedy = Schemas['Remedy']
export type Batch = Schemas['Batch']
export type Gates = Schemas['Gates']
export type Rise = Schemas['Rise']
export type Kind = Schemas['Kind']
export type Axis = Schemas['Axis']
export type Material = Schemas['Material']
export type MaterialSheet = Schemas['MaterialSheet']
export type Mould = Schemas['Mould']
export type Pull = Schemas['Pull']
export type Practice = Schemas['Practice']
export type Shop = Schemas['Shop']
export type Brief = Schemas['Brief']
export type Survey = Schemas['Survey']
export type Undercut = Schemas['Undercut']
export type Attitude = Schemas['Attitude']
export type AttitudeSearch = Schemas['AttitudeSearch']
export type DrawSearch = Schemas['DrawSearch']
export type Pocket = Schemas['Pocket']
export type Gang = Schemas['Gang']
export type GangCase = Schemas['GangCase']
export type Build = Schemas['Build']
export type MouldPlan = Schemas['MouldPlan']
export type MouldKind = Schemas['MouldKind']
export type Pour = Schemas['Pour']
export type RubberPiece = Schemas['RubberPiece']
export type Section = Schemas['Section']
export type BuildSearch = Schemas['BuildSearch']
export type BoxPlan = Schemas['BoxPlan']
export type Drawing = Schemas['Drawing']
export type KindRow = Schemas['KindRow']
export type KindSearch = Schemas['KindSearch']
export type FeedRow = Schemas['FeedRow']
export type FeedSearch = Schemas['FeedSearch']
export type InstrumentLine = Schemas['InstrumentLine']
export type Session = Schemas['Session']
export type SessionEvent = Schemas['SessionEvent']
export type ScaleShows = Schemas['ScaleShows']
export type LogPlan = Schemas['LogPlan']
export type MouldPage = Schemas['MouldPage']
export type JobTaught = Schemas['Taught']
export type Forecasts = Schemas['Forecasts']
export type Stock = Schemas['Stock']
export type StockOf = Schemas['StockOf']
export type Lot = Schemas['Lot']
export type Learnt = Schemas['Learnt']
export type NamedRecipe = Schemas['NamedRecipe']
export type LearntOffer = Schemas['LearntOffer']
export type Ended = Schemas['Ended']
export type Photo = Schemas['Photo']
export type BenchToday = Schemas['BenchToday']
export type Due = Schemas['Due']
export type Way = Schemas['Way']
export type NewSession = Schemas['NewSession']
export type TiltRow = Schemas['TiltRow']
export type TiltSearch = Schemas['TiltSearch']
export type LockedSpace = Schemas['LockedSpace']
export type PartingRow = Schemas['PartingRow']
export type PartingSearch = Schemas['PartingSearch']
export type ProblemDocument = Schemas['Problem']
export type Outline = Schemas['Outline']
export type Solid = Schemas['Solid']
export type Traits = Schemas['Traits']
export type Point = [number, number, number]

/** What went wrong, in words for people. */
export class Problem extends Error {
  constructor(
    readonly title: string,
    readonly detail: string,
    readonly status: number,
    /** It is unlikely, not impossible: sent again as meant it is taken. */
    readonly meant = false,
  ) {
    super(title)
  }
}

/** Puts anything thrown into a problem; a failed fetch means that the server cannot be reached. */
export function asProblem(thrown: unknown): Problem {
  if (thrown instanceof Problem) return thrown
  if (thrown && typeof thrown === 'object' && 'title' in thrown && 'status' in thrown) {
    const p = thrown as Schemas['Problem']
    return new Problem(p.title, p.detail ?? '', p.status, p.meant)
  }
  return new Problem('The server does not answer', 'Try again when it answers.', 0)
}

/** Every answer tells that the server is there, and none that it is not. */
const hearing: Middleware = {
  onResponse: ({ response }) => {
    reach.answered()
    reach.page(response.headers.get('Bathyform-Page'))
    hearClock(response.headers.get('Date'))
  },
  onError: ({ error }) => {
    if (!(error instanceof DOMException && error.name === 'AbortError')) reach.failed()
  },
}

const throwProblems: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return undefined
    const body: unknown = await response.json().catch(() => null)
    throw body ? asProblem(body) : new Problem('The server gave no sensible answer', 'Reload the page and try again.', response.status)
  },
}

/** Figures come as a table; the page has them where they belong. */
const fillNumbers: Middleware = {
  async onResponse({ response }) {
    if (!response.ok || !response.headers.get('Content-Type')?.includes('json')) return undefined
    const body = whole(JSON.parse(await response.text()))
    const filled = new Response('', { status: response.status, headers: { 'Content-Type': 'application/json', 'Content-Length': '1' } })
    return Object.assign(filled, { json: () => Promise.resolve(body) }) // written out again it would have to be read again
  },
}

export const client = createFetchClient<Whole<paths>>({ baseUrl: '/api' })
client.use(fillNumbers)
client.use(throwProblems)
client.use(hearing) // the last of them hears first

export const api = createQueryClient(client)

export const ifMatch = (version: number) => ({ 'If-Match': `"${version}"` })
