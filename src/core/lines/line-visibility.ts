import { CLEARANCE } from '../passes/clearance'
import type { CameraBasis, Frame } from '../scene/camera'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BATCH_RAYS, HIT_NUMBERS, TraceKernel } from '../trace/trace-kernel'
import type { Chains } from './line-chains'
import { NONE, type LineTopology } from './line-topology'

/** Samples along a line are no farther apart than this share of the picture's height. */
const STEP = 0.0012
/** A change that a crossing explains lies exactly there: this near it, in shares of the picture's height. */
const SNAP = 0.0016
/** Runs shorter than this are an error of the rays, unless they are the whole line. */
const SHORTEST_RUN = 0.0012
const HALVINGS = 9
/** Surfaces counted before a hidden line; more are no different. */
const MOST_BEFORE = 9
/** Facets of its own form that a line may lie behind. */
const MOST_OWN_FACETS = 12

/** A run of a chain that is seen, or hidden by the same number of surfaces. */
export interface LineRun {
  readonly chain: number
  /** Point index + share of the way to the next point. */
  readonly from: number
  readonly to: number
  /** Surfaces in front; 0 is seen. */
  readonly hidden: number
}

/**
 * Decides which runs of each line are seen. Between crossings nothing can change but at cusps and where the line dives
 * into a surface: rays to the eye decide in every interval, and halving finds the place of a change no crossing explains.
 * @param crossings of {@link lineCrossings}.
 * @param topology tells which triangles are of one smooth patch.
 * @param asked which parts stand in the way (null: all seen ones), and whether hidden runs are given too.
 * @param watch told how much is done, 0…1; may throw to end it.
 */
export function lineRuns(
  chains: Chains,
  crossings: readonly Float64Array[],
  scene: SceneGeometry,
  topology: Pick<LineTopology, 'patches' | 'sceneTriangles'>,
  camera: CameraBasis,
  frame: Frame,
  asked: { readonly blockers: Uint8Array | null; readonly keepHidden: boolean },
  watch: (share01: number) => void,
): LineRun[] {
  const asker = new SightAsker(chains, scene, topology, camera, asked.blockers, () => watch(done))
  let done = 0
  const { starts } = chains
  const step = STEP * frame.height

  // 1. Samples: the middle of every interval between crossings, and evenly between.
  const sampleStarts = new Uint32Array(chains.count + 1)
  const places: number[] = []
  const lengths = chainLengths(chains)
  for (let c = 0; c < chains.count; c++) {
    const first = starts[c]
    const last = starts[c + 1] - 1
    const cuts = [first, ...crossings[c], last]
    for (let k = 0; k + 1 < cuts.length; k++) {
      const from = lengthAt(lengths, cuts[k])
      const to = lengthAt(lengths, cuts[k + 1])
      if (to <= from && cuts.length > 2) continue
      const pieces = Math.max(1, Math.ceil((to - from) / step))
      for (let i = 0; i < pieces; i++)
        places.push(placeAt(lengths, first, last, from + ((to - from) * (i + 0.5)) / pieces))
    }
    sampleStarts[c + 1] = places.length
  }
  const blocked = asker.ask(places, (k) => chainOfSample(sampleStarts, k))
  done = 0.5

  // 2. Changes, halved until they are known.
  const changes: { chain: number; low: number; high: number; isLowBlocked: boolean }[] = []
  for (let c = 0; c < chains.count; c++) {
    for (let k = sampleStarts[c]; k + 1 < sampleStarts[c + 1]; k++) {
      if (blocked[k] === blocked[k + 1]) continue
      changes.push({ chain: c, low: places[k], high: places[k + 1], isLowBlocked: blocked[k] === 1 })
    }
  }
  for (let round = 0; round < HALVINGS; round++) {
    const middles = changes.map(({ low, high }) => (low + high) / 2)
    const answers = asker.ask(middles, (k) => changes[k].chain)
    done += 0.3 / HALVINGS
    changes.forEach((change, k) => {
      if ((answers[k] === 1) === change.isLowBlocked) change.low = middles[k]
      else change.high = middles[k]
    })
  }

  // 3. Runs.
  let runs: { chain: number; from: number; to: number; isBlocked: boolean }[] = []
  let at = 0
  for (let c = 0; c < chains.count; c++) {
    const first = starts[c]
    const last = starts[c + 1] - 1
    if (sampleStarts[c] === sampleStarts[c + 1]) continue
    const own: typeof runs = []
    let from = first
    let isBlocked = blocked[sampleStarts[c]] === 1
    for (; at < changes.length && changes[at].chain === c; at++) {
      const place = snapped(
        (changes[at].low + changes[at].high) / 2,
        crossings[c],
        lengths,
        SNAP * frame.height,
      )
      own.push({ chain: c, from, to: Math.max(from, place), isBlocked })
      from = Math.max(from, place)
      isBlocked = !isBlocked
    }
    own.push({ chain: c, from, to: last, isBlocked })
    runs.push(...withoutSlips(own, lengths, SHORTEST_RUN * frame.height))
  }

  if (!asked.keepHidden) runs = runs.filter((run) => !run.isBlocked)

  // 4. How many surfaces stand before what is hidden.
  const middles = runs.map(({ from, to, chain }) =>
    placeAt(
      lengths,
      starts[chain],
      starts[chain + 1] - 1,
      (lengthAt(lengths, from) + lengthAt(lengths, to)) / 2,
    ),
  )
  const hidden = runs.map((run, k) => {
    done = 0.8 + (0.2 * k) / runs.length
    return run.isBlocked ? asker.surfacesBefore(run.chain, middles[k]) : 0
  })
  return runs.map(({ chain, from, to }, k) => ({ chain, from, to, hidden: hidden[k] }))
}

/** Lengths in the picture from a chain's first point to each of its points, in pixels. */
function chainLengths({ count, starts, pixels }: Chains): Float64Array {
  const out = new Float64Array(pixels.length / 2)
  for (let c = 0; c < count; c++) {
    for (let p = starts[c] + 1; p < starts[c + 1]; p++)
      out[p] =
        out[p - 1] + Math.hypot(pixels[2 * p] - pixels[2 * p - 2], pixels[2 * p + 1] - pixels[2 * p - 1])
  }
  return out
}

function lengthAt(lengths: Float64Array, place: number): number {
  const p = Math.floor(place)
  const share = place - p
  return share === 0 ? lengths[p] : lengths[p] + (lengths[p + 1] - lengths[p]) * share
}

function placeAt(lengths: Float64Array, first: number, last: number, length: number): number {
  let low = first
  let high = last
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (lengths[middle] <= length) low = middle
    else high = middle
  }
  const span = lengths[high] - lengths[low]
  return low + (span > 0 ? Math.min(1, Math.max(0, (length - lengths[low]) / span)) : 0.5)
}

function chainOfSample(sampleStarts: Uint32Array, sample: number): number {
  let low = 0
  let high = sampleStarts.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (sampleStarts[middle] <= sample) low = middle
    else high = middle
  }
  return low
}

/** The crossing nearest to a place, if it is near enough; else the place. */
function snapped(place: number, crossings: Float64Array, lengths: Float64Array, reach: number): number {
  const here = lengthAt(lengths, place)
  let best = place
  let least = reach
  for (const crossing of crossings) {
    const away = Math.abs(lengthAt(lengths, crossing) - here)
    if (away < least) {
      least = away
      best = crossing
    }
  }
  return best
}

/** Joins runs that are too short to be meant with those beside them. */
function withoutSlips<R extends { from: number; to: number; isBlocked: boolean }>(
  runs: R[],
  lengths: Float64Array,
  shortest: number,
): R[] {
  const out: R[] = []
  runs.forEach((run, k) => {
    const length = lengthAt(lengths, run.to) - lengthAt(lengths, run.from)
    const isSlip = length < shortest && runs.length > 1 && (out.length > 0 || k + 1 < runs.length)
    const before = out.at(-1)
    if (before && (isSlip || before.isBlocked === run.isBlocked)) before.to = run.to
    else if (isSlip) runs[k + 1].from = run.from
    else out.push({ ...run })
  })
  return out
}

/** Asks the kernel whether points of lines see the eye. */
class SightAsker {
  private readonly kernel: TraceKernel
  private readonly origin = new Float64Array(3)
  private readonly direction = new Float64Array(3)
  private far = 0
  private counted = 0
  /** The smooth patch of each triangle of the scene. */
  private readonly patchOf: Uint32Array

  constructor(
    private readonly chains: Chains,
    private readonly scene: SceneGeometry,
    { patches, sceneTriangles }: Pick<LineTopology, 'patches' | 'sceneTriangles'>,
    private readonly camera: CameraBasis,
    private readonly parts: Uint8Array | null,
    /** Called now and then. */
    private readonly onBatch: () => void,
  ) {
    this.kernel = TraceKernel.over(scene.tree)
    this.patchOf = new Uint32Array(scene.triangleCount).fill(NONE)
    sceneTriangles.forEach((id, t) => (this.patchOf[id] = patches[t]))
  }

  /** @returns Uint8Array, one per place: 1 where something stands before it. */
  ask(places: readonly number[], chainOf: (k: number) => number): Uint8Array {
    const out = new Uint8Array(places.length)
    const { kernel } = this
    /** Places that their own patch may stand before, and how near the eye the answer is known. */
    let again: { k: number; near: number }[] = []
    for (let start = 0; start < places.length; start += BATCH_RAYS) {
      this.onBatch()
      const count = Math.min(BATCH_RAYS, places.length - start)
      for (let r = 0; r < count; r++) this.put(r, places[start + r], chainOf(start + r), 0)
      kernel.traceAny(count, SEEN_BY_CAMERA, this.parts)
      for (let r = 0; r < count; r++) {
        if (kernel.blocked[r] === 0) continue
        out[start + r] = 1
        if (this.reachAt(places[start + r]) > 0) again.push({ k: start + r, near: 0 })
      }
    }
    // Facets of the line's own form do not hide it: on, past them.
    for (let round = 0; round < MOST_OWN_FACETS && again.length > 0; round++) {
      const next: typeof again = []
      for (let start = 0; start < again.length; start += BATCH_RAYS) {
        const batch = again.slice(start, start + BATCH_RAYS)
        batch.forEach(({ k, near }, r) => this.put(r, places[k], chainOf(k), near))
        kernel.traceClosest(batch.length, SEEN_BY_CAMERA, this.parts)
        batch.forEach(({ k }, r) => {
          const slot = kernel.hitSlots[HIT_NUMBERS * r]
          if (slot < 0) out[k] = 0
          else {
            const distance = kernel.hits[HIT_NUMBERS * r + 1]
            const isOwn =
              this.patchOf[this.scene.tree.ids[slot]] === this.chains.patches[Math.floor(places[k])]
            if (isOwn && distance < this.reachAt(places[k]))
              next.push({ k, near: distance * (1 + 1e-5) + this.scene.figureDiagonal * 1e-7 })
          }
        })
      }
      again = next
    }
    return out
  }

  private reachAt(place: number): number {
    return this.chains.reaches[Math.floor(place)]
  }

  private put(at: number, place: number, chain: number, near: number): void {
    this.aim(place, chain)
    const { kernel, origin, direction } = this
    kernel.put(at, origin[0], origin[1], origin[2], direction[0], direction[1], direction[2], near, this.far)
  }

  surfacesBefore(chain: number, place: number): number {
    if ((this.counted++ & 1023) === 0) this.onBatch()
    this.aim(place, chain)
    const { kernel, origin, direction } = this
    let near = 0
    let count = 0
    while (
      count < MOST_BEFORE &&
      kernel.closest(
        origin[0],
        origin[1],
        origin[2],
        direction[0],
        direction[1],
        direction[2],
        near,
        this.far,
        SEEN_BY_CAMERA,
        this.parts,
      )
    ) {
      count++
      near = kernel.distance * (1 + 1e-5) + this.scene.figureDiagonal * 1e-6
    }
    return Math.max(1, count)
  }

  /** Sets the ray from a place of a line to the eye. It starts off the surface, by what its triangles may stand before it. */
  private aim(place: number, chain: number): void {
    const { chains, camera, origin, direction, scene } = this
    const { places, normals, lifts, depths, starts } = chains
    const p = Math.min(Math.floor(place), starts[chain + 1] - 2)
    const picture = place - p
    // The share in space: depth does not run evenly along a line in perspective.
    const share = camera.parallel
      ? picture
      : (picture * depths[p]) / (depths[p + 1] + picture * (depths[p] - depths[p + 1]))
    const lift = lifts[p] + (lifts[p + 1] - lifts[p]) * share
    let farthest = 0
    for (let axis = 0; axis < 3; axis++) {
      const from = places[3 * p + axis]
      origin[axis] = from + (places[3 * p + 3 + axis] - from) * share
      farthest = Math.max(farthest, Math.abs(origin[axis]))
    }
    let distance = 1
    for (let axis = 0; axis < 3; axis++)
      direction[axis] = camera.parallel ? camera.back[axis] : camera.eye[axis] - origin[axis]
    if (!camera.parallel) {
      distance = Math.sqrt(direction[0] ** 2 + direction[1] ** 2 + direction[2] ** 2)
      for (let axis = 0; axis < 3; axis++) direction[axis] /= distance
    }
    const away =
      4 * CLEARANCE * (scene.figureDiagonal + farthest) + (camera.parallel ? 0 : distance * 1e-5) + 1.5 * lift
    for (let axis = 0; axis < 3; axis++) {
      const normal = normals[3 * p + axis] * (1 - share) + normals[3 * p + 3 + axis] * share
      origin[axis] += normal * (2 * lift + away) + direction[axis] * away
    }
    this.far = camera.parallel ? 1e30 : distance
  }
}
