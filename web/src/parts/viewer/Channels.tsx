import { useMemo } from 'react'
import { BufferGeometry, CatmullRomCurve3, CurvePath, Float32BufferAttribute, LineCurve3, TubeGeometry, Vector3 } from 'three'
import type { Study } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'
import type { SceneProps } from './Scene'

interface Props {
  gates: Study['gates']
  feet: SceneProps['feet']
  tokens: Tokens
  onGrab?: (what: Grabbed) => void
  onDrop: () => void
}

/** What a hand holds in the view: a vent by its foot, the gate by its mouth, the sprue by its head. */
export interface Grabbed {
  kind: 'vent' | 'gate' | 'sprue'
  vent: number
  /** From where a sprue is held, by itself or by a runner that goes with it, to its head. */
  by?: readonly number[]
  /** Where it is held. */
  at?: readonly number[]
}

/** Well, sprue, runners, gates and vents as the bodies they are, with a grip on what can be led by hand. */
export function Channels({ gates, feet, tokens, onGrab, onDrop }: Props) {
  const { rise, channels } = gates
  const first = channels.findIndex((c) => c.kind === 'sprue')
  const run = channels.findIndex((c) => c.kind === 'runner')
  return (
    <>
      {channels.map((c, i) => {
        const path = c.kind === 'vent' ? followed(c.path, feet?.[c.vent]?.at) : c.path
        const held = gripOf(c, i === first || i === run)
        const end = held?.end === 'first' ? path[0] : path[path.length - 1]
        const grip = c.kind === 'runner' ? path[0].map((x, k) => (x + path[path.length - 1][k]) / 2) : end
        const head = channels[first]?.path[0]
        return (
          <group key={i}>
            {c.rim > 0 ? (
              <Cone channel={c} tokens={tokens} />
            ) : (
              <Tube
                points={path}
                bore={Math.max(c.bore, rise.top * 0.006)}
                cut={c.section && c.side ? { side: c.side, thick: c.section === 'strip' ? c.thick : undefined } : undefined}
                colour={c.kind === 'vent' ? tokens.metal : tokens.ink}
              />
            )}
            {held && onGrab && (
              <mesh
                position={grip as [number, number, number]}
                renderOrder={8}
                onPointerDown={(e) => {
                  e.stopPropagation()
                  onGrab({ kind: held.kind, vent: c.vent, at: grip, by: head && grip.map((x, k) => head[k] - x) })
                  const drop = () => {
                    window.removeEventListener('pointerup', drop)
                    window.setTimeout(onDrop) // after the part has had its say
                  }
                  window.addEventListener('pointerup', drop)
                }}
              >
                {c.kind === 'sprue' ? (
                  <boxGeometry args={[rise.top * 0.04, rise.top * 0.04, rise.top * 0.04]} />
                ) : (
                  <sphereGeometry args={[rise.top * 0.024, 16, 12]} />
                )}
                <meshBasicMaterial color={tokens.sheet} depthTest={false} transparent opacity={0.95} />
              </mesh>
            )}
          </group>
        )
      })}
    </>
  )
}

/** By which end of its path a channel is held, if it can be. */
function gripOf(c: Study['gates']['channels'][number], first: boolean): { kind: Grabbed['kind']; end: 'first' | 'last' } | null {
  if (c.kind === 'vent') return { kind: 'vent', end: 'first' }
  if (c.kind === 'gate') return { kind: 'gate', end: 'last' }
  if (c.kind === 'sprue' && c.cavity >= 0) return { kind: 'gate', end: 'first' } // an opening at the top
  return (c.kind === 'sprue' || c.kind === 'runner') && first ? { kind: 'sprue', end: 'first' } : null
}

/** A vent as it follows its foot while a hand drags it: its upper end stays as high as it is. */
function followed(path: number[][], foot: readonly number[] | undefined): number[][] {
  if (!foot || foot.every((x, k) => Math.abs(x - path[0][k]) < 0.05)) return path
  const up = path[path.length - 1].map((x, k) => Math.abs(x - path[0][k]))
  const rises = up.indexOf(Math.max(...up))
  return path.map((p, i) => (i === 0 ? [...foot] : p.map((x, k) => (k === rises ? x : x + foot[k] - path[0][k]))))
}

/** How a channel that is not round is cut: half round to one side, or a strip so thick across it. */
interface Section {
  side: readonly number[]
  thick?: number
}

function Tube({ points, bore, cut, colour }: { points: number[][]; bore: number; cut?: Section; colour: string }) {
  const geometry = useMemo(() => {
    if (cut) return swept(points, bore, cut)
    const v = points.map((p) => new Vector3().fromArray(p))
    if (v.length === 2) return new TubeGeometry(new CatmullRomCurve3(v), 1, bore / 2, 12)
    const path = new CurvePath<Vector3>()
    for (let i = 1; i < v.length; i++) path.add(new LineCurve3(v[i - 1], v[i]))
    return new TubeGeometry(path, 24, bore / 2, 12)
  }, [points, bore, cut])
  return (
    <mesh geometry={geometry} raycast={() => undefined}>
      <meshBasicMaterial color={colour} transparent opacity={0.72} side={cut ? 2 : 0} />
    </mesh>
  )
}

/** A channel that is half round or a strip, run by run, its ends closed. */
function swept(points: number[][], bore: number, cut: Section): BufferGeometry {
  const side = new Vector3().fromArray(cut.side)
  const at: number[] = []
  for (let i = 1; i < points.length; i++) {
    const from = new Vector3().fromArray(points[i - 1])
    const to = new Vector3().fromArray(points[i])
    const wide = new Vector3().subVectors(to, from).cross(side)
    if (wide.lengthSq() < 1e-12) continue // it runs along its own side
    wide.normalize()
    const profile = outline(bore, cut.thick).map(([x, y]) => new Vector3().addScaledVector(wide, x).addScaledVector(side, y))
    profile.forEach((p, k) => {
      const q = profile[(k + 1) % profile.length]
      const [a, b, c, d] = [p.clone().add(from), q.clone().add(from), q.clone().add(to), p.clone().add(to)]
      for (const v of [a, b, c, a, c, d, from, a, b, to, d, c]) at.push(...v.toArray())
    })
  }
  const g = new BufferGeometry()
  g.setAttribute('position', new Float32BufferAttribute(at, 3))
  return g
}

/** The outline across a channel: half a circle, or a rectangle as wide as the bore. */
function outline(bore: number, thick?: number): [number, number][] {
  const r = bore / 2
  if (thick !== undefined)
    return [
      [-r, -thick / 2],
      [r, -thick / 2],
      [r, thick / 2],
      [-r, thick / 2],
    ]
  const n = 12
  return Array.from({ length: n + 1 }, (_, k) => [r * Math.cos((Math.PI * k) / n), r * Math.sin((Math.PI * k) / n)])
}

/** A body that widens from its bore to its rim, upright: a well, a cone of a sprue, the cup on a vent. */
function Cone({ channel, tokens }: { channel: Study['gates']['channels'][number]; tokens: Tokens }) {
  const geometry = useMemo(() => {
    const foot = new Vector3().fromArray(channel.path[0])
    const top = new Vector3().fromArray(channel.path[1])
    const up = new Vector3(
      ...(['x', 'y', 'z'] as const).map((_, k) =>
        Math.abs(channel.path[1][k] - channel.path[0][k]) >= Math.abs(channel.top - channel.foot) - 1e-6
          ? Math.sign(channel.path[1][k] - channel.path[0][k])
          : 0,
      ),
    )
    const u = new Vector3(up.y, up.z, up.x)
    const v = new Vector3().crossVectors(up, u)
    const g = new BufferGeometry()
    const n = 32
    const at: number[] = []
    const ring = (middle: Vector3, r: number, i: number) =>
      middle
        .clone()
        .addScaledVector(u, r * Math.cos((2 * Math.PI * i) / n))
        .addScaledVector(v, r * Math.sin((2 * Math.PI * i) / n))
        .toArray()
    for (let i = 0; i < n; i++) {
      const [a, b, c, d] = [
        ring(foot, channel.bore / 2, i),
        ring(foot, channel.bore / 2, i + 1),
        ring(top, channel.rim / 2, i + 1),
        ring(top, channel.rim / 2, i),
      ]
      at.push(...a, ...b, ...c, ...a, ...c, ...d)
    }
    g.setAttribute('position', new Float32BufferAttribute(at, 3))
    return g
  }, [channel])
  return (
    <mesh geometry={geometry} raycast={() => undefined}>
      <meshBasicMaterial color={tokens.ink} transparent opacity={0.5} side={2} />
    </mesh>
  )
}
