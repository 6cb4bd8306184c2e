import { useMemo } from 'react'
import { CatmullRomCurve3, CurvePath, LineCurve3, Quaternion, TubeGeometry, Vector3 } from 'three'
import type { Study } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'

interface Props {
  study: Study
  tokens: Tokens
  up: readonly [number, number, number]
  onGrab?: (vent: number) => void
  onDrop: () => void
}

/** Sprue, well and vents, with a grip on each vent's foot. */
export function Channels({ study, tokens, up, onGrab, onDrop }: Props) {
  return (
    <>
      {study.gates.channels.map((c, i) => {
        if (c.kind === 'well') return <Well key={i} channel={c} up={up} tokens={tokens} />
        return (
          <group key={i}>
            <Tube points={c.path} bore={Math.max(c.bore, study.gates.rise.top * 0.006)} colour={c.kind === 'vent' ? tokens.metal : tokens.ink} />
            {c.kind === 'vent' && (
              <mesh
                position={c.path[0] as [number, number, number]}
                renderOrder={8}
                onPointerDown={(e) => {
                  if (!onGrab) return
                  e.stopPropagation()
                  onGrab(c.vent)
                  const drop = () => {
                    window.removeEventListener('pointerup', drop)
                    window.setTimeout(onDrop) // after the part has had its say
                  }
                  window.addEventListener('pointerup', drop)
                }}
              >
                <sphereGeometry args={[study.gates.rise.top * 0.024, 16, 12]} />
                <meshBasicMaterial color={tokens.sheet} depthTest={false} transparent opacity={0.95} />
              </mesh>
            )}
          </group>
        )
      })}
    </>
  )
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

function Well({ channel, up, tokens }: { channel: Study['gates']['channels'][number]; up: readonly [number, number, number]; tokens: Tokens }) {
  const tall = channel.top - channel.foot
  const [position, turn] = useMemo(() => {
    const a = new Vector3().fromArray(channel.path[0])
    const b = new Vector3().fromArray(channel.path[1])
    return [a.add(b).multiplyScalar(0.5), new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...up))]
  }, [channel, up])
  return (
    <mesh position={position} quaternion={turn} raycast={() => undefined}>
      <cylinderGeometry args={[channel.rim / 2, channel.bore / 2, tall, 32, 1, true]} />
      <meshBasicMaterial color={tokens.ink} transparent opacity={0.5} side={2} />
    </mesh>
  )
}
