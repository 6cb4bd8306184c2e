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
}

/** Well, sprue, runners, gates and vents as the bodies they are, with a grip on what can be led by hand. */
export function Channels({ gates, feet, tokens, onGrab, onDrop }: Props) {
  const { rise, channels } = gates
  const first = channels.findIndex((c) => c.kind === 'sprue')
  return (
    <>
      {channels.map((c, i) => {
        const path = c.kind === 'vent' ? followed(c.path, feet?.[c.vent]?.at) : c.path
        const held = gripOf(c, i === first)
        return (
          <group key={i}>
            {c.rim > 0 ? (
              <Cone channel={c} tokens={tokens} />
            ) : (
              <Tube points={path} bore={Math.max(c.bore, rise.top * 0.006)} colour={c.kind === 'vent' ? tokens.metal : tokens.ink} />
            )}
            {held && onGrab && (
              <mesh
                position={path[held.end === 'first' ? 0 : path.length - 1] as [number, number, number]}
                renderOrder={8}
                onPointerDown={(e) => {
                  e.stopPropagation()
                  onGrab({ kind: held.kind, vent: c.vent })
                  const drop = () => {
                    window.removeEventListener('pointerup', drop)
                    window.setTimeout(onDrop) // after the part has had its say
                  }
                  window.addEventListener('pointerup', drop)
                }}
              >
                {held.kind === 'sprue' ? (
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
function gripOf(c: Study['gates']['channels'][number], firstSprue: boolean): { kind: Grabbed['kind']; end: 'first' | 'last' } | null {
  if (c.kind === 'vent') return { kind: 'vent', end: 'first' }
  if (c.kind === 'gate') return { kind: 'gate', end: 'last' }
  if (c.kind === 'sprue' && c.cavity >= 0) return { kind: 'gate', end: 'first' } // an opening at the top
  return c.kind === 'sprue' && firstSprue ? { kind: 'sprue', end: 'first' } : null
}

/** A vent as it follows its foot while a hand drags it: its upper end stays as high as it is. */
function followed(path: number[][], foot: readonly number[] | undefined): number[][] {
  if (!foot || foot.every((x, k) => Math.abs(x - path[0][k]) < 0.05)) return path
  const up = path[path.length - 1].map((x, k) => Math.abs(x - path[0][k]))
  const rises = up.indexOf(Math.max(...up))
  return path.map((p, i) => (i === 0 ? [...foot] : p.map((x, k) => (k === rises ? x : x + foot[k] - path[0][k]))))
}

function Tube({ points, bore, colour }: { points: number[][]; bore: number; colour: string }) {
  const geometry = useMemo(() => {
    const v = points.map((p) => new Vector3().fromArray(p))
    if (v.length === 2) return new TubeGeometry(new CatmullRomCurve3(v), 1, bore / 2, 12)
    const path = new CurvePath<Vector3>()
    for (let i = 1; i < v.length; i++) path.add(new LineCurve3(v[i - 1], v[i]))
    return new TubeGeometry(path, 24, bore / 2, 12)
  }, [points, bore])
  return (
    <mesh geometry={geometry} raycast={() => undefined}>
      <meshBasicMaterial color={colour} transparent opacity={0.72} />
    </mesh>
  )
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
