import { expect, it } from 'vitest'
import { PointBlock } from '../trace/point-block'
import { inSlices } from './in-slices'

const blockOf = (count: number): PointBlock => {
  const block = new PointBlock(0, new ArrayBuffer(144 * 16384))
  block.count = count
  return block
}

it('goes through all points of a block once, in slices of a few ten thousand rays', () => {
  for (const [rays, most] of [
    [1, 4],
    [64, 16],
    [4096, 4096],
  ]) {
    let next = 0
    inSlices(
      blockOf(1000),
      rays,
      most,
      () => false,
      ({ from, count }) => {
        expect(from).toBe(next)
        expect(count === 1 || count * Math.max(rays, (rays * most) / 4) <= 32768).toBe(true)
        next += count
      },
    )
    expect(next).toBe(1000)
  }
})

it('ends between two slices once the job is cancelled', () => {
  let asked = 0
  inSlices(
    blockOf(1000),
    4096,
    16,
    () => asked === 3,
    () => void asked++,
  )
  expect(asked).toBe(3)
})
