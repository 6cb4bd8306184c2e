import type { Material, Mould, Pull } from '../../api/client'
import { today } from '../../parts/day'

export const defects = [
  'void at a high spot',
  'bubbles all over',
  'pinholes',
  'soft or sticky',
  'short fill',
  'heavy flash',
  'step at the seam',
  'warped',
  'swirls or colour',
  'torn detail',
  'stuck',
  'dimples all over',
  'sunk face',
  'mould torn',
  'leaked',
  'floated part or half',
  'does not match the last batch',
]

/** What a mould may be born with. */
export const flaws = ['bubbles in the rubber', 'flash over the part', 'torn edge', 'soft or sticky rubber', 'a half that does not close']

/** A pull as it is being entered. */
export interface PullEntry {
  mouldId: string
  pulled: string
  massA: number | null
  massB: number | null
  notes: string
  celsius: number | null
  humidity: number | null
  pressure: number | null
  who: string
  lot: string
  /** Of each cavity that gave no good casting: what was wrong. */
  bad: Record<number, string | null>
  /** Of those, which can be used. */
  seconds: Record<number, boolean>
  /** Of each cavity that was weighed, g. */
  weights: Record<number, number | null>
  /** What is to be said of a casting. */
  remarks: Record<number, string>
  /** Where on the part the defect of a cavity is. */
  places: Record<number, readonly number[] | null>
  at: string
  out: number | null
  colour: string
  matched: '' | 'yes' | 'no'
  finishing: number | null
}

export const freshPull = (mouldId: string): PullEntry => ({
  mouldId,
  pulled: today(),
  massA: null,
  massB: null,
  notes: '',
  celsius: null,
  humidity: null,
  pressure: null,
  who: '',
  lot: '',
  bad: {},
  seconds: {},
  weights: {},
  remarks: {},
  places: {},
  at: '',
  out: null,
  colour: '',
  matched: '',
  finishing: null,
})

export const pullEntry = (p: Pull): PullEntry => ({
  mouldId: p.mouldId,
  pulled: p.pulled,
  massA: p.massA ?? null,
  massB: p.massB ?? null,
  notes: p.notes ?? '',
  celsius: p.celsius ?? null,
  humidity: p.humidity ?? null,
  pressure: p.pressure ?? null,
  who: p.who ?? '',
  lot: p.lot ?? '',
  bad: Object.fromEntries(p.results.filter((r) => !r.good).map((r) => [r.cavity, r.defect ?? ''])),
  seconds: Object.fromEntries(p.results.filter((r) => r.second).map((r) => [r.cavity, true])),
  weights: Object.fromEntries(p.results.filter((r) => r.weight !== undefined).map((r) => [r.cavity, r.weight ?? null])),
  remarks: Object.fromEntries(p.results.filter((r) => r.note).map((r) => [r.cavity, r.note ?? ''])),
  places: Object.fromEntries(p.results.filter((r) => r.place).map((r) => [r.cavity, r.place ?? null])),
  at: p.at ?? '',
  out: p.out ?? null,
  colour: p.colour ?? '',
  matched: p.matched === undefined ? '' : p.matched ? 'yes' : 'no',
  finishing: p.finishing ?? null,
})

/** What is sent of an entry. */
export function pullBody(e: PullEntry, cavities: number, meant: boolean) {
  return {
    pulled: e.pulled,
    massA: e.massA,
    massB: e.massB,
    notes: e.notes,
    celsius: e.celsius ?? undefined,
    humidity: e.humidity ?? undefined,
    pressure: e.pressure ?? undefined,
    who: e.who || undefined,
    lot: e.lot || undefined,
    at: e.at || undefined,
    out: e.out ?? undefined,
    colour: e.colour || undefined,
    matched: e.matched === '' ? undefined : e.matched === 'yes',
    finishing: e.finishing ?? undefined,
    meant,
    results: Array.from({ length: cavities }, (_, i) => {
      const cavity = i + 1
      const weight = e.weights[cavity] ?? undefined
      const note = e.remarks[cavity]?.trim() || undefined
      const defect = e.bad[cavity]
      return defect === undefined || defect === null
        ? { cavity, good: true, weight, note }
        : { cavity, good: false, second: e.seconds[cavity] || undefined, defect, weight, note, place: e.places[cavity]?.slice() }
    }),
  }
}

/** A mould as it is being entered. */
export interface MouldEntry {
  number: string
  rubber: string
  poured: string
  cavities: string
  pieces: string
  place: string
  lot: string
  /** Whether somebody has looked at it since it was opened, and what was wrong. */
  looked: 'no' | 'clean' | 'flawed'
  flaws: string[]
}

export const mouldEntry = (m: Mould): MouldEntry => ({
  number: m.number,
  rubber: m.rubber,
  poured: m.poured,
  cavities: String(m.cavities),
  pieces: m.pieces ? String(m.pieces) : '',
  place: m.place ?? '',
  lot: m.lot ?? '',
  looked: !m.birth ? 'no' : m.birth.length === 0 ? 'clean' : 'flawed',
  flaws: m.birth ?? [],
})

/** What is sent of a mould. */
export const mouldBody = (e: MouldEntry) => ({
  number: e.number.trim(),
  rubber: e.rubber,
  poured: e.poured,
  cavities: cavitiesIn(e.cavities),
  pieces: /^\d{1,2}$/.test(e.pieces.trim()) ? Number(e.pieces) : undefined,
  place: e.place.trim() || undefined,
  lot: e.lot.trim() || undefined,
  birth: e.looked === 'no' ? undefined : e.looked === 'clean' ? [] : e.flaws,
})

/** How many cavities were typed; NaN for what is no such number. */
export const cavitiesIn = (text: string) => (/^\d{1,2}$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= 60 ? Number(text) : NaN)

export const rubbersOf = (materials: Material[]) => materials.filter((m) => m.kind === 'rubber').map((m) => m.name)
