import { z } from 'zod'
import { srgbToOklab } from '../math/oklab'
import { monotoneCurve } from '../math/monotone-curve'
import { curveParam, numberParam, type ParamValues } from '../params'
import { defineEffect } from './effect-kind'

/**
 * Takes over how dark and light, and how warm and strong, another picture is. What was measured of it stands as numbers: a curve of
 * lightness and three moves of colour, to be changed as any others.
 */
export const matchTones = defineEffect({
  kind: 'matchTones',
  version: 1,
  label: 'Match tones',
  group: 'Colour',
  summary: 'Takes over the lightness and colour of a reference picture, as a curve and three numbers.',
  schema: z.object({
    lightness: curveParam({
      label: 'Lightness',
      default: [
        [0, 0.06],
        [0.3, 0.3],
        [0.7, 0.66],
        [1, 0.96],
      ],
    }),
    green: numberParam({ label: 'Green to red', min: -0.3, max: 0.3, step: 0.002, default: 0.006 }),
    blue: numberParam({ label: 'Blue to yellow', min: -0.3, max: 0.3, step: 0.002, default: 0.024 }),
    chroma: numberParam({ label: 'Chroma', unit: '×', min: 0, max: 4, step: 0.01, default: 0.9 }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ lightness, green, blue, chroma, amount }) {
    const bent = monotoneCurve(lightness)
    return {
      by: 'colour',
      space: 'oklab',
      change(lab) {
        const [l, a, b] = lab
        lab[0] = l + amount * (bent(Math.min(1, Math.max(0, l))) - l)
        lab[1] = a + amount * (a * chroma + green - a)
        lab[2] = b + amount * (b * chroma + blue - b)
      },
    }
  },
})

/** Shares of a picture at which its lightness is compared. */
const QUANTILES = [0.01, 0.1, 0.25, 0.5, 0.75, 0.9, 0.99]
/** Two points of a curve lie at least so far apart. */
const APART = 0.02

interface Measured {
  readonly lightness: readonly number[]
  readonly mean: readonly [number, number]
  readonly spread: number
}

/** Lightness at the quantiles, the mean colour and how far colours lie from it, in OKLab; null where all is clear. */
function measure(rgba: ArrayLike<number>): Measured | null {
  const lights: number[] = []
  let [a, b, square] = [0, 0, 0]
  const colours: [number, number][] = []
  // As many as tell the picture: one in so many pixels.
  const step = 4 * Math.max(1, Math.floor(rgba.length / 4 / 40_000))
  for (let i = 0; i < rgba.length; i += step) {
    if (rgba[i + 3] < 128) continue
    const lab = srgbToOklab([rgba[i] / 255, rgba[i + 1] / 255, rgba[i + 2] / 255])
    lights.push(lab[0])
    colours.push([lab[1], lab[2]])
    a += lab[1]
    b += lab[2]
  }
  if (lights.length === 0) return null
  const mean = [a / lights.length, b / lights.length] as const
  for (const own of colours) square += (own[0] - mean[0]) ** 2 + (own[1] - mean[1]) ** 2
  lights.sort((x, y) => x - y)
  return {
    lightness: QUANTILES.map((share) => lights[Math.round(share * (lights.length - 1))]),
    mean,
    spread: Math.sqrt(square / lights.length),
  }
}

/**
 * Parameters by which {@link matchTones} makes one picture like another: lightness by its quantiles, colour by mean and spread.
 * @param own, reference straight RGBA, 8 bit.
 * @returns null where either is clear all over.
 */
export function tonesToMatch(own: ArrayLike<number>, reference: ArrayLike<number>): ParamValues | null {
  const [from, to] = [measure(own), measure(reference)]
  if (!from || !to) return null
  const points: [number, number][] = []
  const put = (x: number, y: number): void => {
    const last = points[points.length - 1]
    if (x < 0 || x > 1 || (last && x < last[0] + APART)) return
    points.push([round(x), round(Math.min(1, Math.max(last?.[1] ?? 0, y)))])
  }
  const [first, end] = [from.lightness[0], from.lightness[QUANTILES.length - 1]]
  const [low, high] = [to.lightness[0], to.lightness[QUANTILES.length - 1]]
  // Below and above what is there it goes on to black and to white.
  if (first > APART) put(0, Math.min(low, (low * first) / Math.max(first, 1e-6)) * 0.5)
  from.lightness.forEach((x, i) => put(x, to.lightness[i]))
  if (end < 1 - APART) put(1, high + (1 - high) * 0.5)
  if (points.length < 2) points.push([1, round(high)])
  const chroma = from.spread > 1e-4 ? Math.min(4, to.spread / from.spread) : 1
  const move = (axis: 0 | 1) => round(Math.min(0.3, Math.max(-0.3, to.mean[axis] - chroma * from.mean[axis])))
  return { lightness: points, green: move(0), blue: move(1), chroma: round(chroma), amount: 1 }
}

const round = (v: number): number => Math.round(v * 1000) / 1000
