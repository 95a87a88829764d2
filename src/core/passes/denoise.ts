import type { CameraBasis } from '../scene/camera'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import { NO_SURFACE } from './id'
import type { TilePoints } from './tile-points'

/** Stands in guides where several surfaces, or several sides of one, meet within a pixel. */
export const EDGE = NO_SURFACE - 1

/**
 * What the denoiser is guided by, of a rectangle: where one smooth surface fills a pixel, which it is, its direction and
 * its distance along the view axis. Every other pixel that is covered at all is an edge.
 */
export interface DenoiseGuides {
  /** Uint16Array: number of the surface; {@link EDGE}; {@link NO_SURFACE} where there is nothing. */
  readonly surfaces: Uint16Array
  /** Int8Array, 3 a pixel: the normal times 127. */
  readonly normals: Int8Array
  /** Float32Array, world units. */
  readonly depths: Float32Array
}

export const emptyGuides = (count: number): DenoiseGuides => ({
  surfaces: new Uint16Array(count).fill(NO_SURFACE),
  normals: new Int8Array(3 * count),
  depths: new Float32Array(count),
})

/** Guides of a tile from what its pixels see. @param ofSlot number of each slot's surface. */
export function tileGuides(
  { back }: Pick<CameraBasis, 'back'>,
  points: TilePoints,
  ofSlot: Uint16Array,
): DenoiseGuides {
  const { coverage, hits } = points
  const pixels = coverage.length
  const guides = emptyGuides(pixels)
  const { surfaces, normals, depths } = guides
  /** Sums of a pixel: normal, distance. */
  const sums = new Float64Array(4 * pixels)
  const isMixed = new Uint8Array(pixels)
  for (let b = 0; b < points.blockCount; b++) {
    const { count, floats, ints } = points.block(b)
    for (let i = 0; i < count; i++) {
      const at = POINT_NUMBERS * i
      const p = ints[at + POINT.pixel]
      const surface = ofSlot[ints[at + POINT.slot]]
      if (surfaces[p] === NO_SURFACE) surfaces[p] = surface
      else if (surfaces[p] !== surface) isMixed[p] = 1
      let along = 0
      for (let axis = 0; axis < 3; axis++) {
        sums[4 * p + axis] += floats[at + POINT.normal + axis]
        along -= floats[at + POINT.view + axis] * back[axis]
      }
      sums[4 * p + 3] += hits.distances[points.samples[i]] * along
    }
  }
  for (let p = 0; p < pixels; p++) {
    const samples = hits.starts[p + 1] - hits.starts[p]
    const [nx, ny, nz] = [sums[4 * p], sums[4 * p + 1], sums[4 * p + 2]]
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz)
    // Directions that differ within the pixel: a fold, kept as it is.
    if (coverage[p] < 1 || isMixed[p] || length < 0.98 * samples) {
      surfaces[p] = samples > 0 && coverage[p] > 0 ? EDGE : NO_SURFACE
      continue
    }
    normals[3 * p] = Math.round((127 * nx) / length)
    normals[3 * p + 1] = Math.round((127 * ny) / length)
    normals[3 * p + 2] = Math.round((127 * nz) / length)
    depths[p] = sums[4 * p + 3] / samples
  }
  return guides
}

/** Steps between the pixels that are looked at, one pass over the picture after the other. */
const STEPS = [1, 2, 4] as const
/** How far from an edge the surfaces are looked for that meet in it, in pixels. */
const EDGE_REACH = 2
/** How far the denoiser looks, in pixels: what a rectangle needs around it. */
export const DENOISE_MARGIN = 2 * STEPS.reduce((a, b) => a + b, 0) + EDGE_REACH
/** Weights of a cubic B-spline over five pixels. */
const KERNEL = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16] as const
/** How much of the noise of random rays is left by rays that are well spread. */
const SPREAD = 0.6
/** Differences of so many standard deviations still count as noise. */
const TOLERANCE = 2.2

/** Values to be smoothed, and the rays that went into a pixel of them. Values of open-or-not rays lie between 0 and 1. */
export interface NoisyPlane {
  /** Float32Array, width·height; changed in place. */
  readonly values: Float32Array
  readonly raysPerPixel: number
}

/**
 * Smooths noise within surfaces: an edge-avoiding wavelet filter (Dammertz et al. 2010, "Edge-Avoiding À-Trous Wavelet
 * Transform for fast Global Illumination Filtering"). A neighbour counts only on the same surface, facing the same way,
 * in the same plane, and where its value differs by no more than the noise of so many rays explains; so neither an edge
 * nor the edge of a shadow is blurred. All planes of a picture are smoothed together: which neighbours are of the same
 * surface is then found out once. Edges follow ({@link denoiseEdges}).
 */
export function denoise(
  planes: readonly NoisyPlane[],
  guides: DenoiseGuides,
  width: number,
  height: number,
): void {
  const { surfaces, normals, depths } = guides
  const next = planes.map(({ values }) => new Float32Array(values.length))
  // The variance that is left halves with every pass, and so does what counts as noise.
  const variances = planes.map(({ raysPerPixel }) => (SPREAD * SPREAD) / Math.max(1, raysPerPixel))
  /** Neighbours of the pixel at work that lie on its surface, and their weights by form alone. */
  const taps = new Int32Array(25)
  const weights = new Float64Array(25)
  for (const step of STEPS) {
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const p = y * width + x
        const surface = surfaces[p]
        if (surface >= EDGE) {
          for (let k = 0; k < planes.length; k++) next[k][p] = planes[k].values[p]
          continue
        }
        // 1. Neighbours of the same surface.
        const nx = normals[3 * p]
        const ny = normals[3 * p + 1]
        const nz = normals[3 * p + 2]
        // Distance changes evenly across a plane: told from the neighbours of the same surface.
        const slopeX = slope(surfaces, depths, p, x > 0, x + 1 < width, 1)
        const slopeY = slope(surfaces, depths, p, y > 0, y + 1 < height, width)
        const allowed = step * (Math.abs(slopeX) + Math.abs(slopeY)) + 2e-3 * Math.abs(depths[p]) + 1e-12
        let count = 0
        for (let dy = -2; dy <= 2; dy++) {
          const qy = y + dy * step
          if (qy < 0 || qy >= height) continue
          for (let dx = -2; dx <= 2; dx++) {
            const qx = x + dx * step
            if (qx < 0 || qx >= width) continue
            const q = qy * width + qx
            if (surfaces[q] !== surface) continue
            const cosine = (nx * normals[3 * q] + ny * normals[3 * q + 1] + nz * normals[3 * q + 2]) / 16129
            if (cosine < 0.9) continue
            const off = Math.abs(depths[q] - depths[p] - step * (dx * slopeX + dy * slopeY)) / allowed
            if (off > 1) continue
            taps[count] = q
            weights[count++] = KERNEL[dx + 2] * KERNEL[dy + 2] * power32(cosine) * (1 - off)
          }
        }
        // 2. Their mean, as far as the noise explains that they differ.
        for (let k = 0; k < planes.length; k++) {
          const { values } = planes[k]
          const value = values[p]
          // By what is about: a pixel whose few rays all agree is not for that reason sure.
          let share = 0
          for (let i = 0; i < count; i++) share += values[taps[i]]
          share = Math.min(1, Math.max(0, share / count))
          const scale = 1 / (9 * TOLERANCE * TOLERANCE * variances[k] * Math.max(0.02, share * (1 - share)))
          let sum = 0
          let total = 0
          for (let i = 0; i < count; i++) {
            const other = values[taps[i]]
            const near = 1 - (other - value) * (other - value) * scale
            if (near <= 0) continue
            const weight = weights[i] * power9(near)
            sum += weight * other
            total += weight
          }
          next[k][p] = total > 0 ? sum / total : value
        }
      }
    }
    planes.forEach(({ values }, k) => {
      values.set(next[k])
      variances[k] *= 0.4
    })
  }
  denoiseEdges(planes, surfaces, width, height)
}

/**
 * Smooths pixels in which surfaces meet, once the surfaces are smooth. What such a pixel shows is a mix of what its
 * surfaces show beside it: it is brought between the darkest and the brightest of them, so that an outlier goes and a
 * stair is still filled. Where there is no surface near, among thin things, it is the mean of the edges about it. Either
 * way it moves no further than the noise of its rays explains.
 */
function denoiseEdges(
  planes: readonly NoisyPlane[],
  surfaces: Uint16Array,
  width: number,
  height: number,
): void {
  /** Pixels about the one at work: of surfaces, or of edges. */
  const about = new Int32Array((2 * EDGE_REACH + 1) ** 2)
  const gather = (x: number, y: number, wantsEdges: boolean): number => {
    let count = 0
    for (let qy = Math.max(0, y - EDGE_REACH); qy <= Math.min(height - 1, y + EDGE_REACH); qy++) {
      for (let qx = Math.max(0, x - EDGE_REACH); qx <= Math.min(width - 1, x + EDGE_REACH); qx++) {
        const q = qy * width + qx
        if (wantsEdges ? surfaces[q] === EDGE : surfaces[q] < EDGE) about[count++] = q
      }
    }
    return count
  }
  // Edges read edges: as they were.
  const before = planes.map(({ values }) => values.slice())
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x
      if (surfaces[p] !== EDGE) continue
      let count = gather(x, y, false)
      const isBeside = count > 0
      if (!isBeside) count = gather(x, y, true)
      for (let k = 0; k < planes.length; k++) {
        const values = before[k]
        const value = values[p]
        let low = Infinity
        let high = -Infinity
        let sum = 0
        for (let i = 0; i < count; i++) {
          const other = values[about[i]]
          sum += other
          if (other < low) low = other
          if (other > high) high = other
        }
        const mean = sum / count
        const wanted = isBeside ? Math.min(high, Math.max(low, value)) : mean
        const share = Math.min(1, Math.max(0, mean))
        const variance =
          (SPREAD * SPREAD * Math.max(0.02, share * (1 - share))) / Math.max(1, planes[k].raysPerPixel)
        const most = TOLERANCE * Math.sqrt(variance)
        planes[k].values[p] = value + Math.min(most, Math.max(-most, wanted - value))
      }
    }
  }
}

function power32(x: number): number {
  const x2 = x * x
  const x4 = x2 * x2
  const x8 = x4 * x4
  const x16 = x8 * x8
  return x16 * x16
}

/** (1 − d² / 9)⁹ stands for exp(−d²): near it, cheaper, and 0 from three standard deviations on. */
function power9(x: number): number {
  const x2 = x * x
  const x4 = x2 * x2
  return x4 * x4 * x
}

function slope(
  surfaces: Uint16Array,
  depths: Float32Array,
  p: number,
  hasBefore: boolean,
  hasAfter: boolean,
  stride: number,
): number {
  const before = hasBefore && surfaces[p - stride] === surfaces[p]
  const after = hasAfter && surfaces[p + stride] === surfaces[p]
  const back = before ? depths[p] - depths[p - stride] : 0
  const forth = after ? depths[p + stride] - depths[p] : 0
  // The gentler of the two: the other may step over to something behind.
  if (before && after) return Math.abs(back) < Math.abs(forth) ? back : forth
  return back + forth
}
