import { expect, it } from 'vitest'
import { isOwnTip, OWN_TIP_SIDE, ownTip, readOwnTip, tipOfPicture } from './own-tip'
import { tipPlanes } from './tip-plane'

const n = OWN_TIP_SIDE
/** A picture worked out for each pixel. */
const picture = (at: (x: number, y: number) => readonly number[]) =>
  Uint8ClampedArray.from({ length: 4 * n * n }, (_, i) => {
    const p = i >> 2
    return at(p % n, Math.floor(p / n))[i & 3]
  })
const inside = (x: number, y: number) => Math.hypot(x - 64, y - 64) < 40

it.each([
  ['dark on paper', (x: number, y: number) => (inside(x, y) ? [20, 20, 20, 255] : [240, 236, 230, 255])],
  [
    'light on a dark ground',
    (x: number, y: number) => (inside(x, y) ? [250, 250, 250, 255] : [10, 10, 10, 255]),
  ],
  ['dark on nothing', (x: number, y: number) => [0, 0, 0, inside(x, y) ? 255 : 0]],
  ['light on nothing', (x: number, y: number) => [255, 255, 255, inside(x, y) ? 255 : 0]],
])('is the shape of what is %s', (_, at) => {
  const values = tipOfPicture(picture(at))
  expect(values[64 * n + 64]).toBe(255)
  expect(values[5 * n + 5]).toBe(0)
  expect(values.filter((v) => v > 128).length).toBeCloseTo(Math.PI * 40 * 40, -2)
})

it('is the same after it was kept, and is refused where it is broken', () => {
  const values = Uint8Array.from({ length: n * n }, (_, i) => (i * 7919) % 256)
  const tip = ownTip(values)
  expect(isOwnTip(tip)).toBe(true)
  const read = readOwnTip(tip)
  values.forEach((v, i) => expect(read?.[i]).toBeCloseTo(v / 255, 6))
  expect(readOwnTip(tip.slice(0, 50))).toBeNull()
  expect(readOwnTip('own:?')).toBeNull()
  expect(readOwnTip('chalk')).toBeNull()
})

it('is pressed as every tip is: from its largest plane to its smallest, of one mean', () => {
  const planes = tipPlanes(ownTip(tipOfPicture(picture((x, y) => [0, 0, 0, inside(x, y) ? 255 : 0]))), 1)
  expect(planes.map(({ side }) => side)).toEqual([128, 64, 32, 16, 8, 4, 2])
  const mean = ({ plane, side }: (typeof planes)[number]) => plane.reduce((a, b) => a + b, 0) / side ** 2
  for (const plane of planes) expect(mean(plane)).toBeCloseTo(mean(planes[0]), 5)
})
