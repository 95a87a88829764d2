import { pixelPattern } from '../math/sampling'
import type { CameraBasis, Frame } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import {
  MOST_SAMPLES,
  SAMPLE_DOUBLES,
  SAMPLE_INTS,
  SCOUTS,
  TEXTURED,
  type SeenSamples,
} from '../trace/camera-kernel'
import type { RayFilter } from '../trace/ray-filter'
import { EMPTY_SLOT } from '../trace/ray-tree'
import { TraceKernel } from '../trace/trace-kernel'
import type { Tile } from './tile'
import { TileMemory } from './tile-memory'

/** What the samples of each pixel of a tile see. Samples of pixel p: starts[p] … starts[p + 1] − 1. */
export interface PrimaryHits {
  /** The most samples a pixel has. */
  readonly samples: number
  /** Uint32Array, pixels + 1. */
  readonly starts: Uint32Array
  /** Float32Array, 2·samples: positions inside the pixel, in the order in which a pixel takes them. */
  readonly pattern: Float32Array
  /** Int32Array: slot of the tree, −1 for nothing. */
  readonly slots: Int32Array
  /** Float64Array: distance along the ray. */
  readonly distances: Float64Array
  /** Float64Array, two per sample: weights of corners 1 and 2. */
  readonly weights: Float64Array
}

/** Farthest a ray looks. */
export const FAR = 1e30

/** Two samples see the same smooth surface when their normals are nearer than this … */
const SAME_NORMAL = Math.cos((14 * Math.PI) / 180)
/** … and the line between them lies this near to it, as a sine. */
const SAME_PLANE = 0.45

export interface PrimarySetting {
  readonly scene: SceneGeometry
  readonly camera: CameraBasis
  readonly frame: Frame
  /** The most samples a pixel takes. */
  readonly samples: number
  /**
   * Take all samples only where more than one smooth, untextured surface is seen in a pixel or its neighbours. Which
   * pixels those are does not depend on how the picture is cut into tiles.
   */
  readonly adaptive: boolean
  readonly filter: RayFilter
}

/** Whether every pixel takes all its samples. */
export const takesAll = ({
  adaptive,
  samples,
  camera,
}: Pick<PrimarySetting, 'adaptive' | 'samples' | 'camera'>): boolean =>
  !adaptive || samples <= SCOUTS || camera.focus !== undefined

/** Pixels, x and y each. */
function placesOf(count: number, place: (i: number, out: Int32Array, at: number) => void): Int32Array {
  const places = new Int32Array(2 * count)
  for (let i = 0; i < count; i++) place(i, places, 2 * i)
  return places
}

/** Asks the kernel about pixels, as many at a time as it takes. @param found told of each lot: its first pixel, how many. */
function seeAll(
  { scene, camera, frame, filter }: Pick<PrimarySetting, 'scene' | 'camera' | 'frame' | 'filter'>,
  pattern: Float32Array,
  places: Int32Array,
  from: number,
  to: number,
  found: (seen: SeenSamples, first: number, count: number) => void,
): void {
  const kernel = TraceKernel.over(scene.tree).camera
  const most = Math.max(1, Math.floor(MOST_SAMPLES / (to - from)))
  for (let first = 0; first < places.length / 2; first += most) {
    const lot = places.subarray(2 * first, 2 * (first + most))
    found(kernel.see({ camera, frame, pattern }, lot, from, to, filter), first, lot.length / 2)
  }
}

/** Samples of a tile as they are kept. */
class Kept {
  readonly slots: Int32Array
  readonly distances: Float64Array
  readonly weights: Float64Array

  constructor(count: number, memory: TileMemory) {
    this.slots = memory.ints(count)
    this.distances = memory.doubles(count)
    this.weights = memory.doubles(2 * count)
  }

  /** Takes samples over from the kernel. */
  take({ ints, doubles }: SeenSamples, from: number, count: number, to: number): void {
    const { slots, distances, weights } = this
    for (let k = 0; k < count; k++) {
      slots[to + k] = ints[SAMPLE_INTS * (from + k)]
      const at = SAMPLE_DOUBLES * (from + k)
      distances[to + k] = doubles[at + 1]
      weights[2 * (to + k)] = doubles[at + 2]
      weights[2 * (to + k) + 1] = doubles[at + 3]
    }
  }
}

/**
 * Traces the camera rays of a tile.
 * @param memory in which what is found lies, and is good for as long as there.
 */
export function tracePrimaryHits(
  setting: PrimarySetting,
  tile: Tile,
  memory = new TileMemory(),
): PrimaryHits {
  const { samples, scene, camera, frame, filter } = setting
  const pattern = pixelPattern(samples)
  const pixels = tile.width * tile.height
  const starts = memory.unsigned(pixels + 1)

  // 1. All samples everywhere, where there are few or where it is asked.
  if (takesAll(setting)) {
    const kept = new Kept(pixels * samples, memory)
    const places = placesOf(pixels, (p, out, at) => {
      out[at] = tile.x + (p % tile.width)
      out[at + 1] = tile.y + Math.floor(p / tile.width)
    })
    seeAll(setting, pattern, places, 0, samples, (seen, first, count) =>
      kept.take(seen, 0, count * samples, first * samples),
    )
    for (let p = 0; p < pixels; p++) starts[p + 1] = (p + 1) * samples
    return { samples, starts, pattern, ...kept }
  }

  // 2. A few samples, with a border of one pixel so that tiles agree about their seams.
  const kernel = TraceKernel.over(scene.tree).camera
  const wideWidth = tile.width + 2
  const wideHeight = tile.height + 2
  const wide = placesOf(wideWidth * wideHeight, (w, out, at) => {
    out[at] = tile.x - 1 + (w % wideWidth)
    out[at + 1] = tile.y - 1 + Math.floor(w / wideWidth)
  })
  const scouts = kernel.see({ camera, frame, pattern }, wide, 0, SCOUTS, filter)
  const busy = kernel.busy(wideWidth, wideHeight, () => surfacesOf(scene), SAME_NORMAL, SAME_PLANE)
  const wideOf = (p: number) => (Math.floor(p / tile.width) + 1) * wideWidth + (p % tile.width) + 1
  let many = 0
  for (let p = 0; p < pixels; p++) {
    const isBusy = busy[wideOf(p)] !== 0
    starts[p + 1] = starts[p] + (isBusy ? samples : SCOUTS)
    if (isBusy) many++
  }
  const kept = new Kept(starts[pixels], memory)
  for (let p = 0; p < pixels; p++) kept.take(scouts, SCOUTS * wideOf(p), SCOUTS, starts[p])

  // 3. The rest where it tells something.
  const rest = memory.unsigned(many)
  for (let p = 0, k = 0; p < pixels; p++) if (starts[p + 1] - starts[p] > SCOUTS) rest[k++] = p
  const places = placesOf(many, (k, out, at) => {
    out[at] = tile.x + (rest[k] % tile.width)
    out[at + 1] = tile.y + Math.floor(rest[k] / tile.width)
  })
  const more = samples - SCOUTS
  seeAll(setting, pattern, places, SCOUTS, samples, (seen, first, count) => {
    for (let k = 0; k < count; k++) kept.take(seen, more * k, more, starts[rest[first + k]] + SCOUTS)
  })
  return { samples, starts, pattern, ...kept }
}

/**
 * Slots that given pixels see, `samples` each.
 * @param xs, ys pixels of the picture.
 */
export function traceSlots(
  setting: Omit<PrimarySetting, 'adaptive'>,
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
): Int32Array {
  const { samples } = setting
  const slots = new Int32Array(xs.length * samples)
  const places = placesOf(xs.length, (i, out, at) => {
    out[at] = xs[i]
    out[at + 1] = ys[i]
  })
  seeAll(setting, pixelPattern(samples), places, 0, samples, ({ ints }, first, count) => {
    for (let i = 0; i < count * samples; i++) slots[first * samples + i] = ints[SAMPLE_INTS * i]
  })
  return slots
}

/** A number for each slot's surface, part and material together. */
function surfacesOf({ tree, triangleMaterials, materials }: SceneGeometry): Uint32Array {
  return Uint32Array.from(tree.ids, (triangle, slot) => {
    if (triangle === EMPTY_SLOT) return 0
    const material = triangleMaterials[triangle]
    return (materials[material].texture ?? null) !== null
      ? TEXTURED
      : (tree.tags[slot] & 0xffffff) * materials.length + material
  })
}
