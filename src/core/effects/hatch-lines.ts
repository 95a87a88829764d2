import { gridNoise, smoothNoise } from '../math/noise'
import type { EffectWork } from './effect-kind'
import { darkness, inking } from './ink'
import { covered, overPixel } from './pattern'

export interface Hatch {
  /** Between lines, in sheet pixels. */
  readonly spacing: number
  readonly weight: number
  readonly wobble: number
  readonly seed: number
  /** Of each layer of lines, and how dark it must be for that layer to begin, 0…1. */
  readonly layers: readonly {
    readonly angleDeg: number
    readonly from: number
    /** How far its lines are shifted, in spacings. */
    readonly shift?: number
  }[]
}

/** Lines by hand: strokes of some length along each line, wobbling, pressed harder where it is darker. */
export function hatchLines(
  { spacing, weight, wobble, seed, layers }: Hatch,
  ink: Parameters<typeof inking>[0],
): EffectWork {
  const lay = inking(ink)
  let dark = 0
  const drawn = layers.map(({ angleDeg, from, shift = 0 }, n) => {
    const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)]
    // Lines between lines follow the same hand.
    const own = seed + (shift === 0 ? 1000 * n : 0)
    return (x: number, y: number, softPx: number): number => {
      const along = cos * x + sin * y
      let across = cos * y - sin * x
      across +=
        wobble * spacing * 1.2 * (smoothNoise(along / (9 * spacing), across / (4 * spacing), own) - 0.5)
      const line = Math.floor(across / spacing + shift)
      const off = Math.abs(across - (line + 0.5 - shift) * spacing)
      // A stroke ends and another begins; each begins a little later or sooner than tone asks.
      const length = spacing * (14 + 10 * gridNoise(line, 1, own + 5 * n))
      const stroke = along / length + gridNoise(line, 2, own + 5 * n)
      const number = Math.floor(stroke)
      const limit = from + 0.14 * (gridNoise(line, number, own + 3) - 0.5)
      const much = (dark - limit) / Math.max(0.05, 1 - limit)
      if (much <= 0) return 0
      // Thin at both ends of a stroke.
      const ends = Math.min(1, 8 * Math.min(stroke - number, number + 1 - stroke))
      const half = (weight * spacing * (0.3 + 0.9 * Math.min(1, much)) * (1 - wobble + wobble * ends)) / 2
      return covered(half - off, softPx)
    }
  })
  const all = (x: number, y: number, softPx: number): number => {
    let paper = 1
    for (const lines of drawn) paper *= 1 - lines(x, y, softPx)
    return 1 - paper
  }
  return {
    by: 'point',
    isHeavy: true,
    beside: [[{ by: 'blur', sigmaPx: spacing / 3 }]],
    change(rgba, place) {
      dark = darkness(place.beside[0])
      lay(rgba, overPixel(place, all))
    },
  }
}
