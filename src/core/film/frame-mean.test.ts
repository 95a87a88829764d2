import { describe, expect, it } from 'vitest'
import { linearToSrgb, srgbToLinear } from '../math/colour'
import { FrameMean } from './frame-mean'

type Rgba = readonly [number, number, number, number]
/** Rows of one colour. @param straight display values. */
const rows = (width: number, height: number, straight: Rgba) => {
  const [r, g, b, a] = straight
  const values = new Float32Array(4 * width * height)
  for (let i = 0; i < values.length; i += 4) values.set([r * a, g * a, b * a, a], i)
  return [{ top: 0, height, pixels: new Uint8Array(values.buffer) }]
}
const meanOf = (...pictures: Rgba[]) => {
  const mean = new FrameMean(3, 200)
  for (const picture of pictures) mean.add(rows(3, 200, picture))
  return mean
}
const bytesOf = (mean: FrameMean) => [...mean.rowsOf('bytes', () => undefined)]

describe('the mean of pictures of a frame', () => {
  it('of the same picture is that picture', () => {
    const own: Rgba = [0.2, 0.5, 0.9, 1]
    const found = bytesOf(meanOf(own, own, own))
    expect(found.reduce((sum, { height }) => sum + height, 0)).toBe(200)
    for (const { pixels } of found)
      for (let i = 0; i < pixels.length; i++)
        expect(Math.abs(pixels[i] - 255 * own[i % 4])).toBeLessThanOrEqual(0.51)
  })
  it('is one of light: black and white make the grey that is half as bright', () => {
    const [{ pixels }] = bytesOf(meanOf([0, 0, 0, 1], [1, 1, 1, 1]))
    expect(pixels[0]).toBe(Math.round(255 * linearToSrgb(0.5)))
  })
  it('counts each as much as it covers', () => {
    const [{ pixels }] = bytesOf(meanOf([1, 0, 0, 1], [0, 0, 0, 0]))
    expect([...pixels.subarray(0, 4)]).toEqual([255, 0, 0, 128])
  })
  it('has the same light in every form', () => {
    const mean = meanOf([0.3, 0.6, 0.1, 1], [0.9, 0.2, 0.4, 0.5])
    const [bytes, words, floats] = (['bytes', 'words', 'floats'] as const).map(
      (form) => [...mean.rowsOf(form, () => undefined)][0].pixels,
    )
    const word = new DataView(words.buffer)
    const float = new Float32Array(floats.buffer)
    for (let i = 0; i < 400; i++) {
      expect(Math.abs(word.getUint16(2 * i, false) / 257 - bytes[i])).toBeLessThan(0.51)
      const straight = i % 4 === 3 ? float[i] : float[i] / float[i - (i % 4) + 3]
      expect(Math.abs(255 * straight - bytes[i])).toBeLessThan(0.51)
    }
    const light = (srgbToLinear(0.3) + srgbToLinear(0.9) * 0.5) / 1.5
    expect(Math.abs(bytes[0] / 255 - linearToSrgb(light))).toBeLessThan(0.003)
  })
})
