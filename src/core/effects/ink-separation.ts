import { linearToSrgb, parseHex, srgbToLinear } from '../math/colour'
import { srgbToOklab } from '../math/oklab'

/**
 * Separates colours into inks that are printed over each other. What a patch of paper reflects whose share a_k each ink covers, laid
 * without regard to the others (Demichel 1924; Yule, "Principles of Color Reproduction", 1967), is the product of what paper and
 * inks let through: P · Π (1 − a_k (1 − T_k)), in linear light.
 */

/** The most inks of a separation. */
export const MOST_INKS = 4

export interface InkSet {
  readonly paper: Linear
  /** What each ink lets through where it covers all: its colour on white paper. */
  readonly inks: readonly Linear[]
}
type Linear = readonly [number, number, number]

const linearOf = (hex: string): Linear => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}

/** @param colours `#rrggbb` of inks on white; more than {@link MOST_INKS} are left out. */
export const inkSet = (paper: string, colours: readonly string[]): InkSet => ({
  paper: linearOf(paper),
  inks: colours.slice(0, MOST_INKS).map(linearOf),
})

/** Linear light of inks over each other. @param amounts share that each covers, 0…1. @param out red, green, blue. */
export function overprint({ paper, inks }: InkSet, amounts: ArrayLike<number>, out: Float64Array): void {
  for (let c = 0; c < 3; c++) {
    let light = paper[c]
    for (let k = 0; k < inks.length; k++) light *= 1 - amounts[k] * (1 - inks[k][c])
    out[c] = light
  }
}

/** How much as little ink as possible counts against the colour: what of two ways to a colour is chosen. */
const THRIFT = 2e-3
/** Lightness tells forms: it counts for more than hue. */
const WEIGHTS = [1.4, 1, 1] as const
/** Points along each axis of the table. */
const SIDE = 33
const STEPS = 5

const clamp01 = (v: number): number => Math.min(1, Math.max(0, v))

/** A table of separations over all display colours. */
export class Separation {
  /** Float32Array, inks · SIDE³, red fastest. */
  private readonly table: Float32Array
  private readonly count: number

  constructor(readonly set: InkSet) {
    this.count = set.inks.length
    this.table = new Float32Array(this.count * SIDE ** 3)
    const solver = new InkSolver(set)
    const amounts = new Float64Array(this.count)
    for (let b = 0, at = 0; b < SIDE; b++)
      for (let g = 0; g < SIDE; g++) {
        // From a colour to the next one inks change little; each row begins with a search of its own.
        amounts.fill(0.5)
        for (let r = 0; r < SIDE; r++, at += this.count) {
          solver.solve([r / (SIDE - 1), g / (SIDE - 1), b / (SIDE - 1)], amounts, r === 0 ? 4 * STEPS : STEPS)
          this.table.set(amounts, at)
        }
      }
  }

  /** How much of each ink a display colour takes, 0…1. @param out as many numbers as there are inks. */
  amounts(r: number, g: number, b: number, out: Float64Array): void {
    const { table, count } = this
    const n = SIDE - 1
    const [x, y, z] = [clamp01(r) * n, clamp01(g) * n, clamp01(b) * n]
    const [x0, y0, z0] = [
      Math.min(n - 1, Math.floor(x)),
      Math.min(n - 1, Math.floor(y)),
      Math.min(n - 1, Math.floor(z)),
    ]
    const [fx, fy, fz] = [x - x0, y - y0, z - z0]
    out.fill(0, 0, count)
    for (let corner = 0; corner < 8; corner++) {
      const [i, j, k] = [corner & 1, (corner >> 1) & 1, corner >> 2]
      const weight = (i ? fx : 1 - fx) * (j ? fy : 1 - fy) * (k ? fz : 1 - fz)
      if (weight === 0) continue
      const at = count * (((z0 + k) * SIDE + y0 + j) * SIDE + x0 + i)
      for (let ink = 0; ink < count; ink++) out[ink] += weight * table[at + ink]
    }
  }
}

/** Finds amounts by Gauss and Newton's method within 0…1, in OKLab. */
class InkSolver {
  private readonly light = new Float64Array(3)
  private readonly now = new Float64Array(3)
  private readonly moved = new Float64Array(3)
  private readonly slopes: Float64Array[]

  constructor(private readonly set: InkSet) {
    this.slopes = set.inks.map(() => new Float64Array(3))
  }

  private lab(amounts: Float64Array, out: Float64Array): void {
    const { light } = this
    overprint(this.set, amounts, light)
    const lab = srgbToOklab([linearToSrgb(light[0]), linearToSrgb(light[1]), linearToSrgb(light[2])])
    for (let c = 0; c < 3; c++) out[c] = WEIGHTS[c] * lab[c]
  }

  /** @param amounts where to begin; changed in place. */
  solve(target: readonly [number, number, number], amounts: Float64Array, steps: number): void {
    const { now, moved, slopes } = this
    const wanted = srgbToOklab(target).map((v, c) => WEIGHTS[c] * v)
    const n = amounts.length
    const step = 1e-3
    for (let round = 0; round < steps; round++) {
      this.lab(amounts, now)
      for (let k = 0; k < n; k++) {
        const before = amounts[k]
        const by = before > 0.5 ? -step : step
        amounts[k] = before + by
        this.lab(amounts, moved)
        amounts[k] = before
        for (let c = 0; c < 3; c++) slopes[k][c] = (moved[c] - now[c]) / by
      }
      // One ink after the other, several times over: the least of a square form within a box.
      const start = Float64Array.from(amounts)
      for (let sweep = 0; sweep < 12; sweep++)
        for (let k = 0; k < n; k++) {
          let [down, bend] = [-THRIFT * amounts[k], THRIFT]
          for (let c = 0; c < 3; c++) {
            let error = wanted[c] - now[c]
            for (let j = 0; j < n; j++) error -= slopes[j][c] * (amounts[j] - start[j])
            down += slopes[k][c] * error
            bend += slopes[k][c] ** 2
          }
          amounts[k] = clamp01(amounts[k] + down / bend)
        }
      // Not farther at once than the slopes hold.
      for (let k = 0; k < n; k++)
        amounts[k] = clamp01(start[k] + Math.min(0.4, Math.max(-0.4, amounts[k] - start[k])))
    }
  }
}

const known: { readonly key: string; readonly made: Separation }[] = []
const KEPT = 6

/** The separation into a set of inks, kept. @see inkSet */
export function separationOf(paper: string, colours: readonly string[]): Separation {
  const key = [paper, ...colours.slice(0, MOST_INKS)].join()
  const at = known.findIndex((own) => own.key === key)
  const [found] = at >= 0 ? known.splice(at, 1) : [{ key, made: new Separation(inkSet(paper, colours)) }]
  known.unshift(found)
  known.length = Math.min(known.length, KEPT)
  return found.made
}
