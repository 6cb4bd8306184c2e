import type { Axis, Point } from '../api/client'

export const axes: Axis[] = ['+z', '-z', '+x', '-x', '+y', '-y']

/** The unit vector of a way. */
export function dir(axis: Axis): Point {
  const sign = axis[0] === '-' ? -1 : 1
  return [axis[1] === 'x' ? sign : 0, axis[1] === 'y' ? sign : 0, axis[1] === 'z' ? sign : 0]
}

export const opposite = (axis: Axis) => ((axis[0] === '+' ? '-' : '+') + axis[1]) as Axis

export const along = (a: Axis, b: Axis) => a[1] === b[1]

export const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

export const cross = (a: readonly number[], b: readonly number[]): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]

/** Where a point lies in a cavity of a gang: its place is an affine map, three rows of four. */
export const carried = (place: readonly number[], p: ArrayLike<number>): Point =>
  [0, 4, 8].map((r) => place[r] * p[0] + place[r + 1] * p[1] + place[r + 2] * p[2] + place[r + 3]) as Point

/** Where a place of the box lies on the master that is carried there. */
export const brought = (place: readonly number[], p: readonly number[]): Point => {
  const off = [0, 4, 8].map((r, k) => p[k] - place[r + 3])
  return [0, 1, 2].map((c) => place[c] * off[0] + place[c + 4] * off[1] + place[c + 8] * off[2]) as Point
}

/** The two level ways across an up: what a section may be taken across. */
export function levelAxes(up: Axis): [Axis, Axis] {
  const rest = (['+x', '+y', '+z'] as Axis[]).filter((a) => !along(a, up))
  return [rest[0], rest[1]]
}

/** Lowest and highest of a box along a way. */
export function span(low: readonly number[], high: readonly number[], way: readonly number[]): [number, number] {
  const a = dot(low, way)
  const b = dot(high, way)
  return [Math.min(a, b), Math.max(a, b)]
}
