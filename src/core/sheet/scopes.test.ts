import { describe, expect, it } from 'vitest'
import { scopesOf, WAVE } from './scopes'

const picture = (width: number, height: number, at: (x: number, y: number) => readonly number[]) =>
  Uint8Array.from(
    Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))).flat(),
  )
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)

describe('the scopes of a picture', () => {
  it('count each channel by alpha, as shares', () => {
    const { histograms, black, white } = scopesOf(
      picture(
        4,
        1,
        (x) =>
          [
            [0, 0, 0, 255],
            [255, 255, 255, 255],
            [200, 10, 30, 255],
            [9, 9, 9, 0],
          ][x],
      ),
      4,
      1,
    )
    for (const own of histograms) expect(sum(own)).toBeCloseTo(1)
    expect(histograms[0][200]).toBeCloseTo(1 / 3)
    expect(histograms[3][Math.round(0.3 * 200 + 0.59 * 10 + 0.11 * 30)]).toBeCloseTo(1 / 3)
    expect(histograms[0][9]).toBe(0)
    expect([black, white]).toEqual([expect.closeTo(1 / 3), expect.closeTo(1 / 3)])
  })

  it('draw a ramp as a slope, the dark end at the bottom', () => {
    const { waveform } = scopesOf(
      picture(320, 8, (x) => [0, 1, 2].map(() => Math.round((x * 255) / 319)).concat(255)),
      320,
      8,
    )
    const rowOf = (column: number) => {
      const rows = Array.from({ length: WAVE.rows }, (_, row) => waveform[row * WAVE.columns + column])
      expect(sum(rows)).toBeCloseTo(1)
      return rows.indexOf(Math.max(...rows))
    }
    expect(rowOf(0)).toBe(WAVE.rows - 1)
    expect(rowOf(WAVE.columns - 1)).toBe(0)
    expect(Math.abs(rowOf(WAVE.columns / 2) - WAVE.rows / 2)).toBeLessThanOrEqual(1)
  })

  it('of what is clear are empty', () => {
    const { histograms, waveform } = scopesOf(new Uint8Array(16), 2, 2)
    expect(sum(histograms.flat()) + sum(waveform)).toBe(0)
  })
})
