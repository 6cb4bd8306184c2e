import type { Design, Point, Study } from '../../api/client'
import { brought, carried } from '../../parts/axes'
import type { Foot } from '../../parts/Feet'
import type { Grabbed } from '../../parts/viewer/Channels'

/** The vents with one of them led elsewhere. */
export function led(vents: Design['vents'], i: number, at: [number, number, number]): Design['vents'] {
  return vents.map((v, k) => (k === i ? { ...v, at } : v))
}

type Put = (change: Partial<Design>, settled: boolean) => void

/** What becomes of a design as a hand leads one of its channels; vents and gates on the master, the sprue in the box. */
export function ledTo(design: Design, what: Grabbed, at: Point): Partial<Design> {
  if (what.kind === 'vent') return { vents: led(design.vents, what.vent, at) }
  return what.kind === 'gate' ? { foot: at } : { shaft: at }
}

/** The places of the channels that a hand may lead in the section: vents and gates of every cavity, and the first sprue. */
export function feetOf(design: Design, study: Study, put: Put): Foot[] {
  const { places } = study.mould
  const of = (cavity: number) => (places.length > 1 ? ` of cavity ${cavity + 1}` : '')
  const feet: Foot[] = places.flatMap((place, cavity) =>
    design.vents.map((v, i) => ({
      name: `Foot of vent ${i + 1}${of(cavity)}`,
      at: carried(place, v.at),
      bore: v.bore,
      onMove: (at, settled) => put({ vents: led(design.vents, i, brought(place, at)) }, settled),
      onRemove: () => put({ vents: design.vents.filter((_, k) => k !== i) }, true),
    })),
  )
  const seen = new Map<number, number>()
  study.gates.channels.forEach((c) => {
    const opening = c.kind === 'sprue' && c.cavity >= 0
    if (c.kind !== 'gate' && !opening) return
    const n = (seen.get(c.cavity) ?? 0) + 1
    seen.set(c.cavity, n)
    feet.push({
      name: `${opening ? 'Opening' : 'Gate'}${n > 1 ? ` ${n}` : ''}${of(c.cavity)}`,
      at: opening ? c.path[0] : c.path[c.path.length - 1],
      bore: c.bore,
      onMove: (at, settled) => put({ foot: brought(places[c.cavity], at) }, settled),
    })
  })
  const sprue = study.gates.channels.find((c) => c.kind === 'sprue' && c.cavity < 0)
  if (!sprue) return feet
  const head = sprue.path[0]
  feet.push({ name: 'Sprue', at: head, bore: sprue.bore, slides: true, onMove: (at, settled) => put({ shaft: at }, settled) })
  study.gates.channels
    .filter((c) => c.kind === 'runner')
    .forEach((c, i) => {
      const middle = c.path[0].map((v, k) => (v + c.path[c.path.length - 1][k]) / 2)
      feet.push({
        name: `Runner ${i + 1}`,
        at: middle,
        bore: c.bore,
        slides: true, // runners go with the sprue that they begin at
        onMove: (at, settled) => put({ shaft: head.map((v, k) => v + at[k] - middle[k]) as Point }, settled),
      })
    })
  return feet
}
