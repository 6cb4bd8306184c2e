import { useEffect, useMemo, useRef } from 'react'
import { Color, Matrix4, ShaderMaterial, type InstancedMesh } from 'three'
import type { Rise } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'

/** The pockets that the level has shut in, column by column. */
export function Air({ rise, tokens, height, up }: Props) {
  const { air, pockets } = rise
  return (
    <Columns
      of={air}
      up={up}
      colours={[tokens.air, tokens.sheet]}
      tall={(_, tall, index) => {
        const pocket = pockets[index]
        return pocket && (pocket.isolated || pocket.sealHeight < height - 1e-6) ? tall : 0
      }}
    />
  )
}

/** What lies under the level and stays dry: resin reaches it only over a sill. */
export function Dry({ rise, tokens, height, up }: Props) {
  return (
    <Columns
      of={rise.dry}
      up={up}
      colours={[tokens.master, tokens.sheet]}
      tall={(foot, tall, sill) => (height < sill ? Math.min(tall, height - (foot - rise.floor)) : 0)}
    />
  )
}

interface Props {
  rise: Rise
  tokens: Tokens
  height: number
  up: readonly [number, number, number]
}

interface ColumnsProps {
  of: Rise['air']
  up: readonly [number, number, number]
  /** Of what is shown, and of its hatching. */
  colours: readonly [string, string]
  /** How much of a column is shown, by how far up it begins, how tall it is, and its last figure. */
  tall: (foot: number, tall: number, last: number) => number
}

function Columns({ of: { stretches, cell }, up, colours, tall: shownOf }: ColumnsProps) {
  const ref = useRef<InstancedMesh>(null)
  const count = stretches.length / 5
  const material = useHatched(colours[0], colours[1])
  useEffect(() => {
    const mesh = ref.current
    if (!mesh) return
    const m = new Matrix4()
    const wide = [0, 1, 2].map((k) => (up[k] ? 0 : cell * 1.02))
    let shown = 0
    for (let i = 0; i < stretches.length; i += 5) {
      const foot = up[0] * stretches[i] + up[1] * stretches[i + 1] + up[2] * stretches[i + 2]
      const tall = shownOf(foot, stretches[i + 3], stretches[i + 4])
      if (tall <= 0) continue
      const size = wide.map((w) => w || tall)
      m.makeScale(size[0], size[1], size[2])
      m.setPosition(stretches[i] + (up[0] * tall) / 2, stretches[i + 1] + (up[1] * tall) / 2, stretches[i + 2] + (up[2] * tall) / 2)
      mesh.setMatrixAt(shown++, m)
    }
    mesh.count = shown
    mesh.instanceMatrix.needsUpdate = true
    mesh.computeBoundingSphere()
  })
  if (count === 0) return null
  return (
    <instancedMesh key={count} ref={ref} args={[undefined, undefined, count]} renderOrder={5} raycast={() => undefined}>
      <boxGeometry args={[1, 1, 1]} />
      <primitive object={material} attach="material" />
    </instancedMesh>
  )
}

const vertex = /* glsl */ `
  void main() {
    gl_Position = projectionMatrix * modelViewMatrix * instanceMatrix * vec4(position, 1.0);
  }`

const fragment = /* glsl */ `
  uniform vec3 air;
  uniform vec3 line;
  void main() {
    bool hatched = mod(gl_FragCoord.x + gl_FragCoord.y, 8.0) < 1.6;
    gl_FragColor = vec4(hatched ? line : air, 0.85);
    #include <colorspace_fragment>
  }`

/** Air is told from water by its hatching as well, for whom the colours are alike. */
function useHatched(air: string, line: string): ShaderMaterial {
  return useMemo(
    () =>
      new ShaderMaterial({
        vertexShader: vertex,
        fragmentShader: fragment,
        uniforms: { air: { value: new Color(air) }, line: { value: new Color(line) } },
        transparent: true,
        depthTest: false,
      }),
    [air, line],
  )
}
