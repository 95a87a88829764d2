import { expect, it } from 'vitest'
import { floatsToHalves, floatToHalf, halfToFloat } from './half-float'

/** Every half, what lies just beside it, and what lies half-way to the next: where rounding is decided. */
it('turns many numbers into the halves that each turns into by itself', () => {
  const values: number[] = [Infinity, -Infinity, 65519, 65520, 1e9, -1e-9, 2 ** -25, 2 ** -14, -(2 ** -14)]
  const step = new Float32Array(1)
  const bits = new Uint32Array(step.buffer)
  for (let h = 0; h < 0x7c00; h++) {
    const here = halfToFloat(h)
    const middle = (here + halfToFloat(h + 1)) / 2
    for (const value of h + 1 < 0x7c00 ? [here, middle] : [here]) {
      step[0] = value
      for (const beside of [-1, 0, 1]) {
        const at = new Uint32Array([bits[0] + beside])
        const number = new Float32Array(at.buffer)[0]
        if (value !== 0 || beside >= 0) values.push(number, -number)
      }
    }
  }
  const floats = Float32Array.from(values)
  const halves = new Uint16Array(floats.length)
  floatsToHalves(floats, halves)
  const wrong = [...floats].filter((value, i) => halves[i] !== floatToHalf(value))
  expect(wrong).toEqual([])
})
