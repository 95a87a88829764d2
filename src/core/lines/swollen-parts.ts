import { orient3d } from 'robust-predicates'
import type { LineTopology } from './line-topology'

/**
 * Parts as if each had swollen by nothing at all: the tie-break where vertices, edges and faces of different parts meet
 * exactly, as in every model made by mirroring. Each vertex moves along its part's normal by an infinitesimal step, which
 * differs from part to part, and a still smaller one in a direction that no model is built in. What touches then meets, what
 * coincides lies one within the other, and nothing is ever undecided (after Edelsbrunner and Mücke 1990, *Simulation of
 * simplicity*). Signs are exact (Shewchuk 1997, *Adaptive precision floating-point arithmetic*), so that every triangle that
 * shares a vertex or an edge decides alike, and where closed forms meet their lines are closed.
 */
export class SwollenParts {
  /** Steps by vertex of a part: three numbers each. */
  private readonly steps: Float64Array
  private readonly numberOf = new Map<number, number>()

  constructor(
    private readonly topology: LineTopology,
    private readonly partCount: number,
    /** One byte a triangle: those that may meet another part. */
    near: Uint8Array,
  ) {
    const { vertices, faceNormals, parts, triangleCount } = topology
    const sums: number[] = []
    for (let t = 0; t < triangleCount; t++) {
      if (near[t] === 0) continue
      for (let k = 0; k < 3; k++) {
        const key = vertices[3 * t + k] * partCount + parts[t]
        let own = this.numberOf.get(key)
        if (own === undefined) {
          own = this.numberOf.size
          this.numberOf.set(key, own)
          sums.push(0, 0, 0)
        }
        for (let axis = 0; axis < 3; axis++) sums[3 * own + axis] += faceNormals[3 * t + axis]
      }
    }
    this.steps = Float64Array.from(sums)
    for (const [key, own] of this.numberOf) {
      const weight = 1 + (0.5 * (key % partCount)) / partCount
      const [x, y, z] = [sums[3 * own], sums[3 * own + 1], sums[3 * own + 2]]
      const length = Math.hypot(x, y, z) || 1
      for (let axis = 0; axis < 3; axis++)
        this.steps[3 * own + axis] = weight * (sums[3 * own + axis] / length + ODD[axis])
    }
  }

  /**
   * On which side of the plane through a, b, c the point d lies: the sign of (b − a) · ((c − a) × (d − a)). Points are given
   * with their parts; the answer only ever changes its sign with the order of the points.
   */
  side(
    a: number,
    partA: number,
    b: number,
    partB: number,
    c: number,
    partC: number,
    d: number,
    partD: number,
  ): 1 | -1 {
    const p = this.topology.positions
    const [i, j, k, l] = [3 * a, 3 * b, 3 * c, 3 * d]
    // The library's sign is the other way round.
    const exact = -orient3d(
      p[i],
      p[i + 1],
      p[i + 2],
      p[j],
      p[j + 1],
      p[j + 2],
      p[k],
      p[k + 1],
      p[k + 2],
      p[l],
      p[l + 1],
      p[l + 2],
    )
    if (exact !== 0) return exact > 0 ? 1 : -1
    const { partCount, keys } = this
    keys[0] = a * partCount + partA
    keys[1] = b * partCount + partB
    keys[2] = c * partCount + partC
    keys[3] = d * partCount + partD
    return this.tie()
  }

  /** The points of a tie, by vertex and part. */
  private readonly keys = new Float64Array(4)
  /** From the first point to each of the others: where they are, and how they move. */
  private readonly legs = new Float64Array(9)
  private readonly moves = new Float64Array(9)

  /** The sign of how the volume of the points in `keys` begins to change as the parts swell. */
  private tie(): 1 | -1 {
    const { keys, legs, moves, steps, partCount } = this
    const { positions } = this.topology
    // In one order of the points, whatever order they were asked in: rounding must not decide differently twice.
    let sign: 1 | -1 = 1
    for (let pass = 0; pass < 3; pass++)
      for (let i = 0; i < 3 - pass; i++) {
        if (keys[i] <= keys[i + 1]) continue
        const key = keys[i]
        keys[i] = keys[i + 1]
        keys[i + 1] = key
        sign = sign === 1 ? -1 : 1
      }
    const o = 3 * Math.floor(keys[0] / partCount)
    const oStep = 3 * (this.numberOf.get(keys[0]) ?? 0)
    let long = 0
    for (let i = 0; i < 3; i++) {
      const v = 3 * Math.floor(keys[i + 1] / partCount)
      const step = 3 * (this.numberOf.get(keys[i + 1]) ?? 0)
      for (let axis = 0; axis < 3; axis++) {
        const leg = positions[v + axis] - positions[o + axis]
        legs[3 * i + axis] = leg
        moves[3 * i + axis] = steps[step + axis] - steps[oStep + axis]
        long = Math.max(long, Math.abs(leg))
      }
    }
    // The volume is a cubic in the step: its first coefficient that is not 0 decides.
    const linear = volume(moves, legs, legs) + volume(legs, moves, legs) + volume(legs, legs, moves)
    if (Math.abs(linear) > ROUNDING * long * long) return linear > 0 ? sign : opposite(sign)
    const square = volume(legs, moves, moves) + volume(moves, legs, moves) + volume(moves, moves, legs)
    if (Math.abs(square) > ROUNDING * long) return square > 0 ? sign : opposite(sign)
    return volume(moves, moves, moves) >= 0 ? sign : opposite(sign)
  }
}

const opposite = (sign: 1 | -1): 1 | -1 => (sign === 1 ? -1 : 1)

/** Coefficients below this, beside the lengths they are made of, are 0 but for rounding. */
const ROUNDING = 1e-12
/** A direction no model is built in, small beside a unit normal. */
const ODD = [0.000_713_52, -0.000_291_77, 0.000_457_19] as const

/** Volume over the first vector of a list, the second of another, the third of a third. */
const volume = (a: Float64Array, b: Float64Array, c: Float64Array): number =>
  a[0] * (b[4] * c[8] - b[5] * c[7]) + a[1] * (b[5] * c[6] - b[3] * c[8]) + a[2] * (b[3] * c[7] - b[4] * c[6])
