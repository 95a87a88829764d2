import { expect, it } from 'vitest'
import { placeIn, turned } from './turned-box'

it('turns to the right and down', () => {
  const [x, y] = turned(1, 0, 90)
  expect([x, y].map((v) => v + 0)).toEqual([expect.closeTo(0, 9), expect.closeTo(1, 9)])
})

it.each([0, 30, 90, -135])('finds a place in a box that is turned by %i°', (degrees) => {
  const size = { offsetWidth: 400, offsetHeight: 200 }
  const middle = [500, 300]
  // The upright box about it.
  const [a, b] = [turned(200, 100, degrees), turned(200, -100, degrees)]
  const [w, h] = [0, 1].map((i) => 2 * Math.max(Math.abs(a[i]), Math.abs(b[i])))
  const element = {
    ...size,
    getBoundingClientRect: () => ({ left: middle[0] - w / 2, top: middle[1] - h / 2, width: w, height: h }),
  } as HTMLElement
  const [dx, dy] = turned(0.3 * 400, -0.2 * 200, degrees)
  const [x, y] = placeIn(element, { clientX: middle[0] + dx, clientY: middle[1] + dy }, degrees)
  expect(x).toBeCloseTo(0.8, 9)
  expect(y).toBeCloseTo(0.3, 9)
})
