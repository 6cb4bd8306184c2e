import { expect, test } from 'vitest'
import { highestOn, nearestOn } from './Feet'

const square = [0, 0, 0, 10, 0, 0, 10, 0, 10, 0, 0, 10] // in the plane y = 0
const flat = (p: ArrayLike<number>, i: number): [number, number] => [p[i], -p[i + 2]]

test('a foot is led along the surface that the section shows', () => {
  expect(nearestOn([square], flat, 4, -12)).toEqual([4, 0, 10])
  expect(nearestOn([square], flat, 13, -5)).toEqual([10, 0, 5])
  expect(nearestOn([], flat, 1, 1)).toBeNull()
})

test('the highest place of the section is found along its way up', () => {
  expect(highestOn([square], [0, 0, 1])?.[2]).toBe(10)
  expect(highestOn([square], [-1, 0, 0])?.[0]).toBe(0)
  expect(highestOn([], [0, 0, 1])).toBeNull()
})
