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
]

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
    meant,
    results: Array.from({ length: cavities }, (_, i) => {
      const defect = e.bad[i + 1]
      return defect === undefined || defect === null ? { cavity: i + 1, good: true } : { cavity: i + 1, good: false, defect }
    }),
  }
}

/** A mould as it is being entered. */
export interface MouldEntry {
  number: string
  rubber: string
  poured: string
  cavities: string
}

export const mouldEntry = (m: Mould): MouldEntry => ({
  number: m.number,
  rubber: m.rubber,
  poured: m.poured,
  cavities: String(m.cavities),
})

/** How many cavities were typed; NaN for what is no such number. */
export const cavitiesIn = (text: string) => (/^\d{1,2}$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= 60 ? Number(text) : NaN)

export const rubbersOf = (materials: Material[]) => materials.filter((m) => m.kind === 'rubber').map((m) => m.name)
