import { DoubleSide, ShaderMaterial, Vector3, type Side } from 'three'
import { useMemo } from 'react'
import { Color } from 'three'
import type { Tokens } from '../../theme/useTokens'

const vertex = /* glsl */ `
  #include <clipping_planes_pars_vertex>
  uniform vec3 up;
  uniform float floorHeight;
  attribute vec3 paint;
  varying vec3 painting;
  varying float height;
  varying vec3 seen;
  void main() {
    painting = paint;
    height = dot(position, up) - floorHeight;
    seen = normalMatrix * normal;
    vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
    gl_Position = projectionMatrix * mvPosition;
    #include <clipping_planes_vertex>
  }`

const fragment = /* glsl */ `
  #include <clipping_planes_pars_fragment>
  uniform vec3 dry;
  uniform vec3 ink;
  uniform vec3 tints[4];
  uniform float level;
  uniform float low;
  uniform float interval;
  uniform bool hatched;
  uniform vec3 hatch;
  uniform bool painted;
  varying vec3 painting;
  varying float height;
  varying vec3 seen;
  void main() {
    #include <clipping_planes_fragment>
    vec3 n = normalize(gl_FrontFacing ? seen : -seen);
    float light = 0.72 + 0.28 * clamp(dot(n, normalize(vec3(-0.35, 0.6, 0.75))), -0.4, 1.0);
    vec3 tint = painted ? painting : dry;
    if (height < level) {
      float depth = (level - height) / max(level - low, 0.001);
      tint = depth < 0.25 ? tints[0] : depth < 0.5 ? tints[1] : depth < 0.75 ? tints[2] : tints[3];
    }
    vec3 colour = tint * light;
    if (hatched && mod(gl_FragCoord.x - gl_FragCoord.y, 9.0) < 1.3) colour = mix(colour, hatch, 0.75);
    if (interval > 0.0 && fwidth(height) > interval * 0.0004) { // a level face would be all line
      float away = abs(fract(height / interval + 0.5) - 0.5) * interval;
      float line = fwidth(height) * 0.75;
      colour = mix(ink, colour, clamp(0.55 + 0.45 * smoothstep(line * 0.4, line * 1.6, away), 0.0, 1.0));
    }
    gl_FragColor = vec4(colour, 1.0);
    #include <colorspace_fragment>
  }`

export interface ChartLook {
  tokens: Tokens
  dry: string
  up: readonly [number, number, number]
  floor: number
  /** Height over the floor up to which liquid stands; -1 for none. */
  level: number
  low: number
  /** mm between contours, 0 for none. */
  interval: number
  hatched?: boolean
  /** Colours come with the geometry, one for each triangle. */
  painted?: boolean
  side?: Side
  clip?: ShaderMaterial['clippingPlanes']
}

/** The chart's look for a surface: contours at even heights, water in four tints by depth. */
export function useChartMaterial({
  tokens,
  dry,
  up,
  floor,
  level,
  low,
  interval,
  hatched = false,
  painted = false,
  side = DoubleSide,
  clip = null,
}: ChartLook): ShaderMaterial {
  const material = useMemo(
    () =>
      new ShaderMaterial({
        vertexShader: vertex,
        fragmentShader: fragment,
        side,
        clipping: clip !== null,
        clippingPlanes: clip,
        uniforms: {
          up: { value: new Vector3() },
          floorHeight: { value: 0 },
          dry: { value: new Color() },
          ink: { value: new Color() },
          hatch: { value: new Color() },
          tints: { value: [new Color(), new Color(), new Color(), new Color()] },
          level: { value: -1 },
          low: { value: 0 },
          interval: { value: 0 },
          hatched: { value: false },
          painted: { value: false },
        },
      }),
    [side, clip],
  )
  const u = material.uniforms
  u.up.value.set(...up)
  u.floorHeight.value = floor
  u.dry.value.set(dry)
  u.ink.value.set(tokens.ink)
  u.hatch.value.set(tokens.hatch)
  ;[tokens['resin-1'], tokens['resin-2'], tokens['resin-3'], tokens['resin-4']].forEach((c, i) => u.tints.value[i].set(c))
  u.level.value = level
  u.low.value = low
  u.interval.value = interval
  u.hatched.value = hatched
  u.painted.value = painted
  return material
}
