import { add, dot, scale, subtract, type Vec3 } from '../math/vec3'
import { inBlocks, TILE } from '../picture/tile-form'
import { cameraBasis, projectPoint, type Camera, type CameraBasis, type Frame } from '../scene/camera'
import { placeName, readPlace, type PaintGrid } from './paint-grid'

/** A view of a scene: what is seen in it, and how far away. */
export interface CarryView {
  readonly camera: Camera
  /** Pixels of the depths. */
  readonly frame: Frame
  /** Float32Array, width·height of the frame: distance along the view axis in world units; not above 0 where nothing is. */
  readonly depths: Float32Array
  /** Where its picture lies on what is painted. */
  readonly placed: CarryPlace
}

/** Where a shot's picture lies on what is painted, in pixels of that. */
export interface CarryPlace {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export interface CarriedPaint {
  /** Tiles of what was carried over, by their places: unorm16, blocks of four pixels. */
  readonly carried: ReadonlyMap<string, Uint16Array<ArrayBuffer>>
  /** Tiles of what could not be, where it was painted. */
  readonly left: ReadonlyMap<string, Uint16Array<ArrayBuffer>>
  /** How much of the paint could not be carried over, 0…1 by its alpha. */
  readonly leftShare: number
}

/** Two places whose depths differ by less, as a share of the depth, are one. */
const SAME_DEPTH = 0.012
const WORDS = 4 * TILE * TILE

/** A view whose places can be asked for. */
class Seen {
  private readonly basis: CameraBasis
  private readonly out = new Float64Array(3)

  private readonly placed: CarryPlace

  constructor(private readonly view: CarryView) {
    this.placed = view.placed
    this.basis = cameraBasis(view.camera, view.frame)
  }

  /** Depth at a place of what is painted; 0 where nothing is. */
  depthAt(x: number, y: number): number {
    const { frame, depths } = this.view
    const { placed } = this
    const column = Math.floor(((x - placed.x) / placed.width) * frame.width)
    const row = Math.floor(((y - placed.y) / placed.height) * frame.height)
    if (column < 0 || row < 0 || column >= frame.width || row >= frame.height) return 0
    const depth = depths[row * frame.width + column]
    return depth > 0 && Number.isFinite(depth) ? depth : 0
  }

  /** The point in the world that lies so far away at a place. */
  pointAt(x: number, y: number, depth: number): Vec3 {
    const { basis, placed } = this
    const along = basis.parallel ? 1 : depth
    const u = (2 * (x - placed.x)) / placed.width - 1
    const v = 1 - (2 * (y - placed.y)) / placed.height
    const right = (u * basis.halfWidth + basis.centreX) * along
    const up = (v * basis.halfHeight + basis.centreY) * along
    return add(add(basis.eye, scale(basis.back, -depth)), add(scale(basis.right, right), scale(basis.up, up)))
  }

  /** Where a point of the world lies on what is painted, and how far away; null where it does not lie in sight, or hidden. */
  find(point: Vec3): readonly [x: number, y: number] | null {
    const { basis, placed, out, view } = this
    projectPoint(basis, view.frame, ...point, out)
    if (out[2] <= 0) return null
    const x = placed.x + (out[0] / view.frame.width) * placed.width
    const y = placed.y + (out[1] / view.frame.height) * placed.height
    return this.isSeen(x, y, out[2]) ? [x, y] : null
  }

  /** Whether what lies at a place is as far away: there, or half a pixel beside it, where edges are. */
  private isSeen(x: number, y: number, depth: number): boolean {
    const half = (0.5 * this.placed.width) / this.view.frame.width
    for (const [dx, dy] of ABOUT) {
      const there = this.depthAt(x + half * dx, y + half * dy)
      if (there > 0 && Math.abs(there - depth) <= SAME_DEPTH * depth) return true
    }
    return false
  }
}

const ABOUT = [
  [0, 0],
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const

/**
 * Carries paint over from one view of a scene to another, by way of what it was painted on: for every pixel that shows a
 * surface, what was painted on that surface where the other view saw it. What was painted where nothing is stays where nothing is.
 * What is not seen any more is told, and where it was painted.
 * @param tile of the paint by its name.
 * @param onShare told how much is done, 0…1; it may throw to end it.
 */
export function carryOver(
  grid: PaintGrid,
  tile: (name: string) => Uint16Array | null,
  from: CarryView,
  to: CarryView,
  onShare: (share01: number) => void = () => undefined,
): CarriedPaint {
  const [before, after] = [new Seen(from), new Seen(to)]
  const tiles = new Map<string, Uint16Array>()
  for (const [place, name] of Object.entries(grid.tiles)) {
    const words = tile(name)
    if (words?.length === WORDS) tiles.set(place, words)
  }
  // 1. Where does each pixel that was painted go? What goes nowhere is left.
  const wanted = new Set<string>()
  const left = new Map<string, Uint16Array<ArrayBuffer>>()
  let [painted, lost, done] = [0, 0, 0]
  for (const [place, words] of tiles) {
    onShare((0.4 * done++) / tiles.size)
    const [tx, ty] = readPlace(place)
    let own: Uint16Array<ArrayBuffer> | null = null
    for (let i = 0; i < TILE * TILE; i++) {
      const at = inBlocks(i, 0)
      const alpha = words[at + 12]
      if (alpha === 0) continue
      painted += alpha
      const [x, y] = [tx * TILE + (i % TILE) + 0.5, ty * TILE + Math.floor(i / TILE) + 0.5]
      const depth = before.depthAt(x, y)
      const there =
        depth > 0
          ? after.find(before.pointAt(x, y, depth))
          : after.depthAt(x, y) > 0
            ? null
            : ([x, y] as const)
      if (there) {
        // With what is blended from it.
        for (const dy of [-1, 1])
          for (const dx of [-1, 1])
            wanted.add(placeName(Math.floor((there[0] + dx) / TILE), Math.floor((there[1] + dy) / TILE)))
        continue
      }
      lost += alpha
      own ??= new Uint16Array(WORDS)
      for (let c = 0; c < 4; c++) own[at + 4 * c] = words[at + 4 * c]
    }
    if (own) left.set(place, own)
  }
  // 2. What is seen in each pixel that paint can come to?
  const carried = new Map<string, Uint16Array<ArrayBuffer>>()
  const sampler = new PaintSampler(tiles)
  done = 0
  for (const place of wanted) {
    onShare(0.4 + (0.6 * done++) / wanted.size)
    const [tx, ty] = readPlace(place)
    if (tx < 0 || ty < 0 || tx * TILE >= grid.width || ty * TILE >= grid.height) continue
    const words = new Uint16Array(WORDS)
    let isThere = false
    for (let i = 0; i < TILE * TILE; i++) {
      const [x, y] = [tx * TILE + (i % TILE) + 0.5, ty * TILE + Math.floor(i / TILE) + 0.5]
      if (x > grid.width || y > grid.height) continue
      const depth = after.depthAt(x, y)
      const there =
        depth > 0
          ? before.find(after.pointAt(x, y, depth))
          : before.depthAt(x, y) > 0
            ? null
            : ([x, y] as const)
      if (there && sampler.write(there[0], there[1], words, inBlocks(i, 0))) isThere = true
    }
    if (isThere) carried.set(place, words)
  }
  return { carried, left, leftShare: painted > 0 ? lost / painted : 0 }
}

/** Reads sparse tiles between their pixels. */
class PaintSampler {
  private readonly sum = new Float64Array(4)

  constructor(private readonly tiles: ReadonlyMap<string, Uint16Array>) {}

  /** Writes what is painted at a place. @returns whether anything is. */
  write(x: number, y: number, words: Uint16Array, at: number): boolean {
    const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)]
    const [u, v] = [x - 0.5 - left, y - 0.5 - top]
    const { sum } = this
    sum.fill(0)
    for (let dy = 0; dy < 2; dy++)
      for (let dx = 0; dx < 2; dx++) {
        const weight = (dx ? u : 1 - u) * (dy ? v : 1 - v)
        if (weight > 0) this.add(left + dx, top + dy, weight)
      }
    const alpha = sum[3]
    if (alpha < 0.5) return false
    for (let c = 0; c < 3; c++) words[at + 4 * c] = Math.min(65535, Math.round(sum[c] / alpha))
    words[at + 12] = Math.min(65535, Math.round(alpha))
    return true
  }

  private add(x: number, y: number, weight: number): void {
    const [tx, ty] = [Math.floor(x / TILE), Math.floor(y / TILE)]
    const words = this.tiles.get(placeName(tx, ty))
    if (!words) return
    const at = inBlocks((y - ty * TILE) * TILE + x - tx * TILE, 0)
    const alpha = weight * words[at + 12]
    for (let c = 0; c < 3; c++) this.sum[c] += alpha * words[at + 4 * c]
    this.sum[3] += alpha
  }
}

/** How far apart two views are, for those who ask whether anything has to be carried at all. */
export const isSameView = (a: Pick<CarryView, 'camera'>, b: Pick<CarryView, 'camera'>): boolean => {
  const apart = subtract(a.camera.eye, b.camera.eye)
  const turned = subtract(a.camera.target, b.camera.target)
  const { eye: _eye, target: _target, ...lensA } = a.camera
  const { eye: _otherEye, target: _otherTarget, ...lensB } = b.camera
  return (
    dot(apart, apart) === 0 && dot(turned, turned) === 0 && JSON.stringify(lensA) === JSON.stringify(lensB)
  )
}
