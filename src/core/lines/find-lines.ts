import { GrowingFloats } from '../geometry/growing-array'
import type { Camera, Frame } from '../scene/camera'
import { cameraBasis, type CameraBasis } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { facingField } from './facing-field'
import { intersectionLines } from './intersection-lines'
import { chainSegments, type Chains } from './line-chains'
import { lineCrossings } from './line-crossings'
import { joinDrawings, type DrawingPart, type LineDrawing } from './line-drawing'
import { kindNumber, type LineKind } from './line-kinds'
import { lineTopology } from './line-topology'
import { lineRuns, type LineRun } from './line-visibility'
import { SegmentList } from './segment-list'
import { shadowLines, type LineLight } from './shadow-lines'
import { lengthOf, tidyLines, type LoosePolyline } from './tidy-lines'
import { suggestiveLines } from './suggestive-lines'
import { CutAway, cutoutLines } from './cutout-lines'
import { edgeLines, wireLines, zeroSetLines } from './surface-lines'

export interface LineSetting {
  readonly kinds: readonly LineKind[]
  /** Faces that turn by more at a hard edge make a crease. */
  readonly creaseDeg: number
  /** Least derivative of radial curvature for a suggestive line, in 1 / figure diagonal². */
  readonly suggestiveFrom: number
  /** Whether ground parts have lines of their own; they hide in any case, and lines where others meet them stay. */
  readonly ground: boolean
  /** The light of shadow edges; none are looked for without it. */
  readonly light?: LineLight | null
  /** Farthest a kept line may lie from the found one, in thousandths of the picture's height. */
  readonly tolerance: number
  /** Parts whose lines are drawn, one byte per scene part; null: all seen ones. */
  readonly shown?: Uint8Array | null
  /** Parts that stand in the way; null: all seen ones. */
  readonly blockers?: Uint8Array | null
  /** Parts that stand in the light's way; null: all that block light. */
  readonly lightBlockers?: Uint8Array | null
  /** Whether lines that nothing but other surfaces hides are kept; they are where left out. */
  readonly keepHidden?: boolean
}

/** Told how much of the work is done, 0…1; may throw to end it. */
export type LineWatch = (share01: number) => void

export const DEFAULT_LINE_SETTING: LineSetting = {
  kinds: ['silhouette', 'border', 'part', 'material', 'intersection', 'crease'],
  creaseDeg: 35,
  suggestiveFrom: 60,
  ground: false,
  tolerance: 0.1,
}

/** Shortest that a line of each kind may be, in shares of the picture's height: less is noise of the surface. */
const SHORTEST: Partial<Record<LineKind, number>> = {
  silhouette: 0.003,
  suggestive: 0.012,
  intersection: 0.002,
}

/** Lines that lie on the surfaces as the eye or a light sees them; they are found apart from those of the form itself. */
const ON_SURFACES: ReadonlySet<LineKind> = new Set(['suggestive', 'shadow'])

/** Kinds that are found together: each group by itself, in any order and on any thread, and then joined as they come. */
export const lineGroups = (kinds: readonly LineKind[]): LineKind[][] =>
  [kinds.filter((kind) => !ON_SURFACES.has(kind)), kinds.filter((kind) => ON_SURFACES.has(kind))].filter(
    (group) => group.length > 0,
  )

/** Finds the lines of a view, and which of them are seen. */
export function findLines(
  scene: SceneGeometry,
  camera: Camera,
  frame: Frame,
  setting: LineSetting = DEFAULT_LINE_SETTING,
  watch: LineWatch = () => undefined,
): LineDrawing {
  const groups = lineGroups(setting.kinds)
  if (groups.length < 2) return findGroup(scene, camera, frame, setting, watch)
  return joinDrawings(
    groups.map((kinds, g) =>
      findGroup(scene, camera, frame, { ...setting, kinds }, (share) => watch((g + share) / groups.length)),
    ),
  )
}

/** One of the {@link lineGroups}. Phases: find, chain, split, decide, simplify. */
function findGroup(
  scene: SceneGeometry,
  camera: Camera,
  frame: Frame,
  setting: LineSetting,
  watch: LineWatch,
): LineDrawing {
  const basis = cameraBasis(camera, frame)
  const kinds = new Set(setting.kinds)
  const shown = setting.shown ?? null

  // 1. Find them on the geometry.
  const list = new SegmentList()
  watch(0)
  const topology = lineTopology(scene, shown)
  watch(0.1)
  const field = facingField(topology, basis)
  const creaseRad = (setting.creaseDeg * Math.PI) / 180
  const cutAway = CutAway.of(scene)
  let nodes = edgeLines(topology, scene, basis, field, { kinds, creaseRad, cutAway }, list)
  if (kinds.has('silhouette')) {
    const { sceneTriangles } = topology
    const there = (t: number, weights: Float64Array) =>
      cutAway === null || cutAway.isThere(sceneTriangles[t], weights[1], weights[2]) ? 1 : 0
    zeroSetLines(topology, basis, field, 'silhouette', list, there)
  }
  if (cutAway && kinds.has('border'))
    nodes = cutoutLines(topology, cutAway, basis, scene.figureDiagonal, nodes, list)
  if (kinds.has('suggestive'))
    suggestiveLines(topology, basis, field, setting.suggestiveFrom, scene.figureDiagonal, list)
  watch(0.2)
  if (kinds.has('intersection')) nodes = intersectionLines(topology, scene, cutAway, nodes, list)
  watch(0.3)
  if (kinds.has('shadow') && setting.light) {
    const { light, lightBlockers = null } = setting
    nodes = shadowLines(topology, scene, light, lightBlockers, nodes, list)
  }
  if (kinds.has('wire')) wireLines(scene, basis, shown, nodes, list)
  const wanted = setting.ground ? list : withoutGround(list, scene)

  // 2. Join, split, decide.
  watch(0.35)
  const chains = chainSegments(wanted, basis, frame, scene.figureDiagonal * 1e-4)
  watch(0.4)
  const crossings = lineCrossings(chains, basis)
  watch(0.5)
  const { blockers = null, keepHidden = true } = setting
  const runs = lineRuns(chains, crossings, scene, topology, basis, frame, { blockers, keepHidden }, (share) =>
    watch(0.5 + 0.4 * share),
  )

  // 3. Keep what is long enough, as few points as its form needs.
  const parts = scene.parts.map(({ key, name }) => ({ key, name }))
  return toDrawing(chains, runs, basis, frame, setting.tolerance / 1000, parts)
}

/** Lines that belong to ground parts alone are left out. */
function withoutGround(list: SegmentList, scene: SceneGeometry): SegmentList {
  const isGround = scene.parts.map((part) => part.role === 'ground')
  if (!isGround.some(Boolean)) return list
  return list.filtered((part, otherPart) => !(isGround[part] && isGround[otherPart]))
}

/** Lines whose pieces are put together in the picture too, as they are found as zeros of a field. */
const TIDIED: readonly LineKind[] = ['silhouette', 'suggestive', 'intersection', 'shadow']
const TIDIED_NUMBERS = new Set(TIDIED.map(kindNumber))
/** Of those, the ones of which noise makes scraps. */
const SCRAPPY = new Set((['silhouette', 'suggestive'] as const).map(kindNumber))
const SHORTEST_BY_NUMBER = new Map(
  Object.entries(SHORTEST).map(([kind, length]) => [kindNumber(kind as LineKind), length]),
)

/** What lines of the same kind, parts and visibility have in common. */
interface LineClass {
  readonly kind: number
  readonly part: number
  readonly otherPart: number
  readonly hidden: number
}

function toDrawing(
  chains: Chains,
  runs: readonly LineRun[],
  camera: CameraBasis,
  frame: Frame,
  tolerance: number,
  parts: readonly DrawingPart[],
): LineDrawing {
  // 1. Runs as polylines; a closed chain that begins in the middle of a run is one line there.
  const classes: LineClass[] = []
  const classOf = new Map<string, number>()
  const lines: LoosePolyline[] = []
  const put = (own: readonly LineRun[]) => {
    const { chain, hidden } = own[0]
    const [kind, part, otherPart] = [chains.kinds[chain], chains.parts[chain], chains.otherParts[chain]]
    const name = `${kind} ${part} ${otherPart} ${hidden}`
    let key = classOf.get(name)
    if (key === undefined) {
      key = classes.push({ kind, part, otherPart, hidden }) - 1
      classOf.set(name, key)
    }
    lines.push(toPolyline(chains, own, frame, key, !SCRAPPY.has(kind)))
  }
  for (let r = 0; r < runs.length;) {
    let last = r
    while (last + 1 < runs.length && runs[last + 1].chain === runs[r].chain) last++
    const own = runs.slice(r, last + 1)
    const [head, tail] = [own[0], own[own.length - 1]]
    if (own.length > 1 && isRound(chains, head.chain) && head.hidden === tail.hidden) {
      put([tail, head])
      own.pop()
      own.shift()
    }
    for (const run of own) put([run])
    r = last + 1
  }

  // 2. Put together what belongs together.
  const isLoose = (line: LoosePolyline) => TIDIED_NUMBERS.has(classes[line.key].kind)
  const tidy = [...lines.filter((line) => !isLoose(line)), ...tidyLines(lines.filter(isLoose))]

  // 3. Keep what is long enough, as few points as its form needs.
  const writer = new DrawingWriter(chains, camera)
  for (const line of tidy) {
    const { kind } = classes[line.key]
    if (!(lengthOf(line) > Math.max(1e-6, SHORTEST_BY_NUMBER.get(kind) ?? 0))) continue
    writer.add(line, simplified(line.xy, tolerance), classes[line.key])
  }
  return writer.finish(frame.width / frame.height, parts)
}

function isRound({ starts, pixels }: Chains, chain: number): boolean {
  const first = 2 * starts[chain]
  const last = 2 * (starts[chain + 1] - 1)
  return last - first > 4 && pixels[first] === pixels[last] && pixels[first + 1] === pixels[last + 1]
}

/** @param runs of one chain, each beginning where the one before ends. */
function toPolyline(
  chains: Chains,
  runs: readonly LineRun[],
  frame: Frame,
  key: number,
  isSure: boolean,
): LoosePolyline {
  const places: number[] = []
  for (const { from, to } of runs) {
    if (places.length === 0) places.push(from)
    for (let p = Math.floor(from) + 1; p < to; p++) places.push(p)
    places.push(to)
  }
  const xy = new Float64Array(2 * places.length)
  places.forEach((place, i) => {
    for (let axis = 0; axis < 2; axis++)
      xy[2 * i + axis] = between(chains.pixels, 2, axis, place) / frame.height
  })
  const n = places.length - 1
  const closed = n > 2 && xy[0] === xy[2 * n] && xy[1] === xy[2 * n + 1]
  return { key, xy, tags: Float64Array.from(places), closed, isSure }
}

/** A number of a point of a chain, or of a place between two points. */
function between(values: ArrayLike<number>, width: number, axis: number, place: number): number {
  const p = Math.floor(place)
  const share = place - p
  const here = values[width * p + axis]
  return share === 0 ? here : here + (values[width * (p + 1) + axis] - here) * share
}

/** Collects lines of a drawing. */
class DrawingWriter {
  private readonly starts: number[] = [0]
  private readonly points = new GrowingFloats()
  private readonly depths = new GrowingFloats()
  private readonly normals = new GrowingFloats()
  private readonly strengths = new GrowingFloats()
  private readonly classes: LineClass[] = []
  private readonly closed: number[] = []

  constructor(
    private readonly chains: Chains,
    private readonly camera: CameraBasis,
  ) {}

  /** @param kept indices of the points that are kept. */
  add({ xy, tags, closed }: LoosePolyline, kept: readonly number[], its: LineClass): void {
    const { chains, camera } = this
    const { right, up, back, parallel } = camera
    for (const i of kept) {
      const place = tags[i]
      const share = place - Math.floor(place)
      const a = chains.depths[Math.floor(place)]
      const b = share === 0 ? a : chains.depths[Math.floor(place) + 1]
      const nx = between(chains.normals, 3, 0, place)
      const ny = between(chains.normals, 3, 1, place)
      const nz = between(chains.normals, 3, 2, place)
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1
      this.points.push2(xy[2 * i], xy[2 * i + 1])
      this.depths.push(parallel ? a + (b - a) * share : (a * b) / (b + (a - b) * share))
      this.normals.push3(
        (nx * right[0] + ny * right[1] + nz * right[2]) / length,
        (nx * up[0] + ny * up[1] + nz * up[2]) / length,
        (nx * back[0] + ny * back[1] + nz * back[2]) / length,
      )
      this.strengths.push(between(chains.strengths, 1, 0, place))
    }
    this.starts.push(this.depths.length)
    this.classes.push(its)
    this.closed.push(closed && kept.length > 3 ? 1 : 0)
  }

  finish(aspect: number, scene: readonly DrawingPart[]): LineDrawing {
    const { classes } = this
    return {
      aspect,
      scene,
      count: classes.length,
      starts: Uint32Array.from(this.starts),
      points: this.points.toArray(),
      depths: this.depths.toArray(),
      normals: this.normals.toArray(),
      strengths: this.strengths.toArray(),
      kinds: Uint8Array.from(classes, (c) => c.kind),
      parts: Uint32Array.from(classes, (c) => c.part),
      otherParts: Uint32Array.from(classes, (c) => c.otherPart),
      hidden: Uint8Array.from(classes, (c) => c.hidden),
      closed: Uint8Array.from(this.closed),
    }
  }
}

/**
 * Points of a polyline that are enough for it (Douglas & Peucker 1973): no left-out point lies farther from the line than
 * the tolerance.
 * @param xy 2·n.
 * @returns indices in order, the first and the last among them.
 */
export function simplified(xy: Float64Array, tolerance: number): number[] {
  const count = xy.length / 2
  const keep = new Uint8Array(count)
  keep[0] = keep[count - 1] = 1
  const stack: [number, number][] = [[0, count - 1]]
  for (let span = stack.pop(); span; span = stack.pop()) {
    const [first, last] = span
    const x = xy[2 * first]
    const y = xy[2 * first + 1]
    const dx = xy[2 * last] - x
    const dy = xy[2 * last + 1] - y
    const squared = dx * dx + dy * dy
    let worst = -1
    let most = tolerance * tolerance
    for (let i = first + 1; i < last; i++) {
      const px = xy[2 * i] - x
      const py = xy[2 * i + 1] - y
      const along = squared > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / squared)) : 0
      const away = (px - along * dx) ** 2 + (py - along * dy) ** 2
      if (away > most) {
        most = away
        worst = i
      }
    }
    if (worst < 0) continue
    keep[worst] = 1
    stack.push([first, worst], [worst, last])
  }
  const out: number[] = []
  for (let i = 0; i < count; i++) if (keep[i]) out.push(i)
  return out
}
