import { useEffect, useMemo, useRef } from 'react'
import { Color, Matrix4, ShaderMaterial, type InstancedMesh } from 'three'
import type { Rise } from '../../api/client'
import type { Tokens } from '../../theme/useTokens'

/** The pockets that the level has shut in, column by column. */
export function Air({ rise, tokens, height, up }: { rise: Rise; tokens: Tokens; height: number; up: readonly [number, number, number] }) {
  const ref = useRef<InstancedMesh>(null)
  const { air, pockets } = rise
  const { stretches, cell } = air
  const count = stretches.length / 5
  const material = useHatched(tokens.air, tokens.sheet)
  useEffect(() => {
    const mesh = ref.current
    if (!mesh) return
    const m = new Matrix4()
    const wide = [0, 1, 2].map((k) => (up[k] ? 0 : cell * 1.02))
    let shown = 0
    for (let i = 0; i < stretches.length; i += 5) {
      const pocket = pockets[stretches[i + 4]]
      if (!pocket || !(pocket.isolated || pocket.sealHeight < height - 1e-6)) continue
      const tall = stretches[i + 3]
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
