import { withScratch } from '../picture/scratch-kernel'
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
  if (planes.length === 0) return
  smoothSurfaces(planes, guides, width, height)
  denoiseEdges(planes, guides.surfaces, width, height)
}

/** Planes of what guides tell: surface, normal, distance, and its change across and down. */
const FORM_PLANES = 7
/** Pixels of no surface about the picture: as far as the widest step looks. A multiple of 4. */
const AROUND = 2 * Math.max(...STEPS)
/** Of the kernel: room for all neighbours of four pixels. Bytes. */
const NEIGHBOURS = 25 * 48

/** Smooths what lies within surfaces; kernel/picture/smooth.ts. */
function smoothSurfaces(
  planes: readonly NoisyPlane[],
  { surfaces, normals, depths }: DenoiseGuides,
  width: number,
  height: number,
): void {
  const across = Math.ceil(width / 4) * 4
  const row = across + 2 * AROUND
  const count = row * (height + 2 * AROUND)
  const first = AROUND * row + AROUND
  const plane = 4 * count
  const sizes = [
    FORM_PLANES * plane,
    planes.length * plane,
    planes.length * plane,
    4 * planes.length,
    NEIGHBOURS,
  ]
  withScratch(sizes, (room, [form, values, next, scales, neighbours]) => {
    // 1. The form, in rows with nothing about them.
    const numbers = (k: number) => room.floats(form + k * plane, count)
    const [nx, ny, nz, depth, slopeX, slopeY] = [1, 2, 3, 4, 5, 6].map(numbers)
    const surface = room.ints(form, count).fill(NO_SURFACE)
    const noisy = planes.map((_, k) => room.floats(values + k * plane, count))
    for (let y = 0; y < height; y++) {
      for (let x = 0, p = y * width, at = first + y * row; x < width; x++, p++, at++) {
        surface[at] = surfaces[p]
        if (surfaces[p] >= EDGE) continue
        nx[at] = normals[3 * p] / 127
        ny[at] = normals[3 * p + 1] / 127
        nz[at] = normals[3 * p + 2] / 127
        depth[at] = depths[p]
        // Distance changes evenly across a plane: told from the neighbours of the same surface.
        slopeX[at] = slope(surfaces, depths, p, x > 0, x + 1 < width, 1)
        slopeY[at] = slope(surfaces, depths, p, y > 0, y + 1 < height, width)
      }
      for (let k = 0; k < planes.length; k++)
        noisy[k].set(planes[k].values.subarray(y * width, (y + 1) * width), first + y * row)
    }
    // 2. The variance that is left shrinks with every pass, and so does what counts as noise.
    let [from, to] = [values, next]
    let left = 1
    for (const step of STEPS) {
      const scale = room.floats(scales, planes.length)
      for (let k = 0; k < planes.length; k++) {
        const variance = (left * SPREAD * SPREAD) / Math.max(1, planes[k].raysPerPixel)
        scale[k] = 1 / (9 * TOLERANCE * TOLERANCE * variance)
      }
      const size = [across, height, 4 * row] as const
      room.kernel.smoothSurfaces(
        form,
        from,
        to,
        plane,
        planes.length,
        scales,
        neighbours,
        4 * first,
        ...size,
        step,
      )
      ;[from, to] = [to, from]
      left *= 0.4
    }
    planes.forEach((own, k) => {
      const smooth = room.floats(from + k * plane, count)
      for (let y = 0; y < height; y++)
        own.values.set(smooth.subarray(first + y * row, first + y * row + width), y * width)
    })
  })
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
