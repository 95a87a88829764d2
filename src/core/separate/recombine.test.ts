import { describe, expect, it } from 'vitest'
import { cutOut, filledBox, meanDifference, takeIn } from './recombine'

const picture = (...pixels: number[][]) => Float32Array.from(pixels.flat())
const RED = [1, 0, 0, 1]
const row = (x: number, width: number) => ({ x, y: 0, width, height: 1 })
const CLEAR = [0, 0, 0, 0]

describe('pictures that come together', () => {
  it('are laid beneath what is there, or added', () => {
    const half = [0.25, 0, 0, 0.5]
    const under = picture(half, CLEAR, RED)
    takeIn(under, 3, picture([0, 1, 0, 1], [0, 1, 0, 1], [0, 1, 0, 1]), row(0, 3), 'over')
    expect([...under]).toEqual([0.25, 0.5, 0, 1, 0, 1, 0, 1, 1, 0, 0, 1])
    const sum = picture(half, CLEAR)
    takeIn(sum, 2, picture([0, 0.5, 0, 0.5], CLEAR), row(0, 2), 'plus')
    expect([...sum]).toEqual([0.25, 0.5, 0, 1, 0, 0, 0, 0])
  })
  it('are taken in where they lie', () => {
    const sum = new Float32Array(4 * 6)
    takeIn(sum, 3, picture(RED, RED), { x: 1, y: 0, width: 1, height: 2 }, 'over')
    expect([...sum].filter((_, i) => i % 4 === 3)).toEqual([0, 1, 0, 0, 1, 0])
  })
  it('differ by the mean of what their numbers do', () => {
    expect(meanDifference(picture(RED, CLEAR), picture(RED, CLEAR))).toBe(0)
    expect(meanDifference(picture(RED, CLEAR), picture(CLEAR, CLEAR))).toBe(2 / 8)
  })
  it('are cut to what they hold', () => {
    // Three by three; the middle row's last two hold something.
    const all = new Float32Array(36)
    all.set([0.1, 0.2, 0.3, 0.4, ...RED], 4 * 4)
    const filled = (pixels: Float32Array) => filledBox(3, 3, (place) => pixels[4 * place + 3] > 0)
    const box = filled(all)
    expect(box).toEqual({ x: 1, y: 1, width: 2, height: 1 })
    expect(cutOut(all, 3, box, 4)).toEqual(picture([0.1, 0.2, 0.3, 0.4], RED))
    expect(filled(new Float32Array(36))).toEqual({ x: 0, y: 0, width: 1, height: 1 })
  })
})
