import type { Vec3 } from '../math/vec3'
import type { CameraBasis } from '../scene/camera'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BATCH_RAYS, HIT_NUMBERS, TraceKernel } from '../trace/trace-kernel'
import { facingField } from './facing-field'
import { GrowingFloats } from '../geometry/growing-array'
import type { LineTopology } from './line-topology'
import { FACT_NUMBERS, ID_NUMBERS, PLACE_NUMBERS, SegmentList } from './segment-list'
import { edgeLines, zeroSetLines } from './surface-lines'

/** Where a light is: at a place, or so far that only its direction counts. World units. */
export type LineLight =
  { readonly kind: 'place'; readonly place: Vec3 } | { readonly kind: 'sun'; readonly toLight: Vec3 }

/** Longest piece of a throwing edge that is followed as one, in figure diagonals. */
const STEP = 0.004
/** A piece of shadow that bends by more than this share of its length fell over an edge: it is no line. */
const STRAIGHT = 0.2
/** What a shadow falls on nearer than this is the very surface that throws it, in figure diagonals. */
const CONTACT = 5e-4
/** Off the surface, in figure diagonals. */
const AWAY = 2e-5

/**
 * The edges of what a light does not reach: on the form itself where it turns away from the light, and where the shadow
 * of its outline falls. The outline is the silhouette as the light sees it; every point of it that the light reaches is
 * followed on to the next surface, and points that stay neighbours there are joined.
 * @param blockers parts that stand in the light's way; null: all that block light.
 * @param firstNode nodes from this number on are free.
 * @returns the next free node.
 */
export function shadowLines(
  topology: LineTopology,
  scene: SceneGeometry,
  light: LineLight,
  blockers: Uint8Array | null,
  firstNode: number,
  out: SegmentList,
): number {
  // 1. What the light sees as outline.
  const eye = asCamera(light)
  const field = facingField(topology, eye)
  const outline = new SegmentList()
  edgeLines(
    topology,
    scene,
    eye,
    field,
    { kinds: new Set(['silhouette', 'border']), creaseRad: Math.PI },
    outline,
  )
  zeroSetLines(topology, eye, field, 'silhouette', outline)

  // 2. The edge of the form's own shadow is that outline itself, where the form is smooth.
  const { places, facts, ids } = outline
  let nodes = firstNode
  for (let s = 0; s < outline.count; s++)
    for (let end = 0; end < 2; end++) nodes = Math.max(nodes, firstNode + ids[ID_NUMBERS * s + end] + 1)
  for (let s = 0; s < outline.count; s++) {
    const [nodeA, nodeB] = [ids[ID_NUMBERS * s], ids[ID_NUMBERS * s + 1]]
    const lift = facts[FACT_NUMBERS * s + 3]
    if (lift === 0) continue
    const at = PLACE_NUMBERS * s
    out.add(
      'shadow',
      places.subarray(at, at + 3),
      places.subarray(at + 3, at + 6),
      nodeA,
      nodeB,
      ids[ID_NUMBERS * s + 3],
      ids[ID_NUMBERS * s + 4],
      facts.subarray(FACT_NUMBERS * s, FACT_NUMBERS * s + 3),
      lift,
      1,
      facts[FACT_NUMBERS * s + 5],
      ids[ID_NUMBERS * s + 5],
    )
  }

  // 3. Points of the outline, followed on.
  const samples = new GrowingFloats()
  /** First sample of each segment of the outline. */
  const first = new Uint32Array(outline.count + 1)
  const step = STEP * scene.figureDiagonal
  for (let s = 0; s < outline.count; s++) {
    const at = PLACE_NUMBERS * s
    const dx = places[at + 3] - places[at]
    const dy = places[at + 4] - places[at + 1]
    const dz = places[at + 5] - places[at + 2]
    const pieces = Math.max(1, Math.ceil(Math.sqrt(dx * dx + dy * dy + dz * dz) / step))
    // Ends and middles: of every piece it is known whether its shadow is straight.
    for (let i = 0; i <= 2 * pieces; i++) samples.push(i / (2 * pieces))
    first[s + 1] = samples.length
  }
  const fallen = followOn(outline, samples.view(), first, scene, light, blockers)
  const a = new Float64Array(3)
  const b = new Float64Array(3)
  for (let s = 0; s < outline.count; s++) {
    for (let i = first[s]; i + 2 < first[s + 1]; i += 2) {
      if (!isStraight(fallen, i)) continue
      for (let axis = 0; axis < 3; axis++) {
        a[axis] = fallen.places[3 * i + axis]
        b[axis] = fallen.places[3 * i + 6 + axis]
      }
      const nodeAt = (sample: number): number => {
        if (sample === first[s]) return firstNode + ids[ID_NUMBERS * s]
        if (sample === first[s + 1] - 1) return firstNode + ids[ID_NUMBERS * s + 1]
        return nodes + sample
      }
      const part = fallen.parts[i]
      out.add('shadow', a, b, nodeAt(i), nodeAt(i + 2), part, part, fallen.normals.subarray(3 * i, 3 * i + 3))
    }
  }
  return nodes + samples.length
}

/** The light as a camera: only its place or direction counts. */
function asCamera(light: LineLight): CameraBasis {
  const isSun = light.kind === 'sun'
  const to: Vec3 = isSun ? light.toLight : [0, 0, 1]
  const length = Math.hypot(...to) || 1
  const back: Vec3 = [to[0] / length, to[1] / length, to[2] / length]
  return {
    eye: isSun ? [0, 0, 0] : light.place,
    right: [1, 0, 0],
    up: [0, 1, 0],
    back,
    // A picture so small that no facet is finer than it: the field stays as it is.
    halfHeight: 1e-9,
    halfWidth: 1e-9,
    centreX: 0,
    centreY: 0,
    parallel: isSun,
  }
}

interface Fallen {
  /** Float64Array, 3 a sample: where the shadow of a point falls. */
  readonly places: Float64Array
  readonly normals: Float32Array
  /** Int32Array: the part it falls on; −1 where on none, or where the light does not reach the point. */
  readonly parts: Int32Array
}

/**
 * Where the shadows of points fall.
 * @param samples each a share of the length of its segment; those of segment s: first[s] … first[s + 1] − 1.
 */
function followOn(
  { places, facts }: SegmentList,
  samples: Float32Array,
  first: Uint32Array,
  scene: SceneGeometry,
  light: LineLight,
  blockers: Uint8Array | null,
): Fallen {
  const kernel = TraceKernel.over(scene.tree)
  const count = samples.length
  const fallen: Fallen = {
    places: new Float64Array(3 * count),
    normals: new Float32Array(3 * count),
    parts: new Int32Array(count).fill(-1),
  }
  const segments = new Uint32Array(count)
  for (let s = 0; s + 1 < first.length; s++) segments.fill(s, first[s], first[s + 1])
  const point = new Float64Array(3)
  const toLight = new Float64Array(3)
  const away = AWAY * scene.figureDiagonal
  /** Distance to the light; sets `point` off the surface and `toLight`. */
  const aim = (k: number): number => {
    const s = segments[k]
    const share = samples[k]
    const lift = facts[FACT_NUMBERS * s + 3]
    let squared = 0
    for (let axis = 0; axis < 3; axis++) {
      const from = places[PLACE_NUMBERS * s + axis]
      point[axis] =
        from +
        (places[PLACE_NUMBERS * s + 3 + axis] - from) * share +
        facts[FACT_NUMBERS * s + axis] * (2 * lift + away)
      toLight[axis] = light.kind === 'sun' ? light.toLight[axis] : light.place[axis] - point[axis]
      squared += toLight[axis] * toLight[axis]
    }
    const length = Math.sqrt(squared) || 1
    for (let axis = 0; axis < 3; axis++) toLight[axis] /= length
    return light.kind === 'sun' ? 1e30 : length
  }

  // 1. Which points the light reaches.
  const reached = new Uint32Array(count)
  let total = 0
  for (let start = 0; start < count; start += BATCH_RAYS) {
    const batch = Math.min(BATCH_RAYS, count - start)
    for (let r = 0; r < batch; r++) {
      const far = aim(start + r)
      kernel.put(r, point[0], point[1], point[2], toLight[0], toLight[1], toLight[2], away, far)
    }
    kernel.traceAny(batch, BLOCKS_LIGHT, blockers)
    for (let r = 0; r < batch; r++) if (kernel.blocked[r] === 0) reached[total++] = start + r
  }

  // 2. What lies behind those.
  const { floats } = scene.tree
  for (let start = 0; start < total; start += BATCH_RAYS) {
    const batch = Math.min(BATCH_RAYS, total - start)
    for (let r = 0; r < batch; r++) {
      const k = reached[start + r]
      aim(k)
      const near = CONTACT * scene.figureDiagonal + 4 * facts[FACT_NUMBERS * segments[k] + 3]
      kernel.put(r, point[0], point[1], point[2], -toLight[0], -toLight[1], -toLight[2], near, 1e30)
    }
    kernel.traceClosest(batch, BLOCKS_LIGHT, blockers)
    for (let r = 0; r < batch; r++) {
      const slot = kernel.hitSlots[HIT_NUMBERS * r]
      if (slot < 0) continue
      const k = reached[start + r]
      aim(k)
      const distance = kernel.hits[HIT_NUMBERS * r + 1]
      const c = scene.tree.cornerBase(slot)
      const [ex, ey, ez] = [
        floats[c + 12] - floats[c],
        floats[c + 16] - floats[c + 4],
        floats[c + 20] - floats[c + 8],
      ]
      const [gx, gy, gz] = [
        floats[c + 24] - floats[c],
        floats[c + 28] - floats[c + 4],
        floats[c + 32] - floats[c + 8],
      ]
      const nx = ey * gz - ez * gy
      const ny = ez * gx - ex * gz
      const nz = ex * gy - ey * gx
      const facing = nx * toLight[0] + ny * toLight[1] + nz * toLight[2]
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz)
      // What is turned away from the light is in its own shadow.
      if (length === 0 || facing <= 0) continue
      for (let axis = 0; axis < 3; axis++)
        fallen.places[3 * k + axis] = point[axis] - toLight[axis] * distance
      fallen.normals[3 * k] = nx / length
      fallen.normals[3 * k + 1] = ny / length
      fallen.normals[3 * k + 2] = nz / length
      fallen.parts[k] = scene.tree.tags[slot] & 0xffffff
    }
  }
  return fallen
}

/** Whether the shadow of a piece, from sample i over its middle to i + 2, stays on one part and straight. */
function isStraight({ places, parts }: Fallen, i: number): boolean {
  if (parts[i] < 0 || parts[i] !== parts[i + 1] || parts[i] !== parts[i + 2]) return false
  let length = 0
  let off = 0
  for (let axis = 0; axis < 3; axis++) {
    const [a, m, b] = [places[3 * i + axis], places[3 * i + 3 + axis], places[3 * i + 6 + axis]]
    length += (b - a) ** 2
    off += (m - (a + b) / 2) ** 2
  }
  return length > 0 && off < STRAIGHT ** 2 * length
}
