import { gridNoise, smoothNoise } from '../math/noise'

/**
 * Lines that no renderer finds: cracks, creases and folds that grow from a line drawn by hand. Lengths are shares of the
 * picture's height. The same line and numbers grow the same.
 */

/** A point on a line, and how thick the line is there: 1 is its full weight. */
export type GrownPoint = readonly [x: number, y: number, weight: number]
export type GrownLine = readonly GrownPoint[]

export type Growth = 'crack' | 'crease' | 'fold'

export interface GrowthSetting {
  readonly growth: Growth
  /** 0 straight, 1 as broken as it gets. */
  readonly jagged: number
  /** How many others leave it, 0…1. */
  readonly branches: number
  /** How far those reach, as a share of the line that they leave; of folds: how far they lie apart. */
  readonly reach: number
  readonly seed: number
}

/** Steps that lines grow by. */
const STEP = 0.004
/** Branches of branches of branches have none. */
const MOST_DEPTH = 3
/** So many steps before and after a place tell which way it goes. */
const TURN = 9
/** Nothing grows beyond this many points. */
const MOST_POINTS = 60_000

/** What grows from a line. @param seedLine points of the line, two at least. */
export function grownLines(
  seedLine: readonly (readonly [number, number])[],
  setting: GrowthSetting,
): GrownLine[] {
  const way = evenly(seedLine)
  if (way.length < 2) return []
  if (setting.growth === 'fold') return folds(way, setting)
  return new Cracks(setting).grow(way)
}

interface Way {
  readonly x: number
  readonly y: number
}

/** A line at steps of one length. */
function evenly(line: readonly (readonly [number, number])[]): Way[] {
  const length = lengthOf(line)
  const count = Math.min(4000, Math.max(1, Math.round(length / STEP)))
  if (length === 0) return []
  const out: Way[] = []
  let [segment, before] = [0, 0]
  for (let i = 0; i <= count; i++) {
    const wanted = (length * i) / count
    let here = distance(line[segment], line[segment + 1])
    while (segment < line.length - 2 && before + here < wanted) {
      before += here
      segment++
      here = distance(line[segment], line[segment + 1])
    }
    const t = here > 0 ? Math.min(1, (wanted - before) / here) : 0
    const [a, b] = [line[segment], line[segment + 1]]
    out.push({ x: a[0] + t * (b[0] - a[0]), y: a[1] + t * (b[1] - a[1]) })
  }
  return out
}

const distance = (a: readonly number[], b: readonly number[]): number => Math.hypot(b[0] - a[0], b[1] - a[1])
const lengthOf = (line: readonly (readonly number[])[]): number =>
  line.slice(1).reduce((sum, point, i) => sum + distance(line[i], point), 0)

/** Directions across a way, to its left: where it turns, they turn little by little. */
const across = (way: readonly Way[], i: number): readonly [number, number] => {
  const [a, b] = [way[Math.max(0, i - TURN)], way[Math.min(way.length - 1, i + TURN)]]
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1
  return [-(b.y - a.y) / length, (b.x - a.x) / length]
}

/** Cracks run on until they meet another, and branch at sharp angles; creases bend less and hardly branch. */
class Cracks {
  private readonly lines: GrownLine[] = []
  /** Which line went through a cell of a grid of steps. */
  private readonly cells = new Map<number, number>()
  private points = 0
  private count = 0

  constructor(private readonly setting: GrowthSetting) {}

  grow(way: readonly Way[]): GrownLine[] {
    this.main(way)
    return this.lines
  }

  private chance(what: number): number {
    return gridNoise(this.count++, what, this.setting.seed)
  }

  private cell(x: number, y: number): number {
    return Math.floor(x / STEP) * 65_536 + Math.floor(y / STEP)
  }

  /** The drawn line itself: broken about its way. */
  private main(way: readonly Way[]): void {
    const { jagged, growth, seed } = this.setting
    const isCrack = growth === 'crack'
    const far = (way.length - 1) * STEP
    const sway = jagged * (isCrack ? 0.016 : 0.006)
    const line = way.map(({ x, y }, i): GrownPoint => {
      const [nx, ny] = across(way, i)
      const at = i * STEP
      // Corners of several sizes: a crack goes straight, then breaks off.
      const off =
        sway * broken(at / 0.045, seed) +
        (isCrack ? 0.45 * sway * broken(at / 0.016, seed + 7) : 0) +
        (isCrack ? 0.2 * sway * broken(at / 0.006, seed + 13) : 0)
      const t = i / (way.length - 1)
      const thick = Math.sin(Math.PI * Math.min(1, 0.06 + 0.94 * t)) ** 0.6
      const uneven = isCrack ? 0.55 + 0.9 * smoothNoise(at / 0.022, 3, seed) : 0.9
      return [x + off * nx, y + off * ny, thick * uneven]
    })
    this.put(line)
    this.branch(line, 1, far)
  }

  private put(line: GrownLine): void {
    if (line.length < 2) return
    const own = this.lines.push(line)
    this.points += line.length
    for (const [x, y] of line) this.cells.set(this.cell(x, y), own)
  }

  private branch(from: GrownLine, depth: number, length: number): void {
    const { branches, reach, growth } = this.setting
    if (depth > MOST_DEPTH || branches <= 0) return
    const gap = (growth === 'crack' ? 0.035 : 0.09) / branches
    const own = this.lines.length
    let next = gap * (0.3 + this.chance(1))
    for (let i = 1; i < from.length - 1 && this.points < MOST_POINTS; i++) {
      next -= STEP
      if (next > 0) continue
      next = gap * (0.4 + 1.2 * this.chance(2)) * depth
      const side = this.chance(3) < 0.5 ? -1 : 1
      const turn = side * (growth === 'crack' ? 0.45 + 0.75 * this.chance(4) : 0.2 + 0.3 * this.chance(4))
      const [a, b] = [from[i - 1], from[i + 1]]
      const angle = Math.atan2(b[1] - a[1], b[0] - a[0]) + turn
      const long = length * reach * (0.15 + 0.85 * this.chance(5) ** 2)
      this.run(from[i], angle, long, own, depth)
    }
  }

  /** A branch: it keeps its direction, breaks off it and comes back, and ends where it meets another. */
  private run(
    [x0, y0, weight0]: GrownPoint,
    angle: number,
    length: number,
    parent: number,
    depth: number,
  ): void {
    const { jagged, growth } = this.setting
    const steps = Math.round(length / STEP)
    if (steps < 3) return
    const line: GrownPoint[] = [[x0, y0, 0.7 * weight0]]
    const started = this.count
    let [x, y, off, until] = [x0, y0, 0, 0]
    for (let i = 1; i <= steps; i++) {
      if (--until <= 0) {
        until = 2 + Math.floor(6 * gridNoise(i, started, this.setting.seed + 31))
        off =
          (growth === 'crack' ? 1.5 : 0.35) * jagged * (gridNoise(i, started, this.setting.seed + 37) - 0.5)
      }
      x += STEP * Math.cos(angle + off)
      y += STEP * Math.sin(angle + off)
      line.push([x, y, 0.7 * weight0 * (1 - i / steps) ** 0.8])
      const met = this.cells.get(this.cell(x, y))
      if (i > 3 && met !== undefined && met !== parent) break
    }
    this.put(line)
    this.branch(line, depth + 1, length)
  }
}

/** −1…1, straight between numbers of whole places: it has corners. */
function broken(at: number, seed: number): number {
  const cell = Math.floor(at)
  const [a, b] = [gridNoise(cell, 0, seed), gridNoise(cell + 1, 0, seed)]
  return 2 * (a + (b - a) * (at - cell)) - 1
}

/** Folds of cloth: lines side by side that swing together, the middle one the longest, thin at their ends. */
function folds(way: readonly Way[], { branches, reach, jagged, seed }: GrowthSetting): GrownLine[] {
  const sides = Math.round(4 * branches)
  const apart = 0.06 * reach
  const lines: GrownLine[] = []
  for (let k = -sides; k <= sides; k++) {
    const away = Math.abs(k) / (sides + 1)
    const cut = 0.42 * away * (0.6 + 0.8 * gridNoise(k, 1, seed))
    const shift = 0.25 * away * (gridNoise(k, 2, seed) - 0.5)
    const from = Math.max(0, Math.floor((cut + shift) * (way.length - 1)))
    const to = Math.min(way.length - 1, Math.ceil((1 - cut + shift) * (way.length - 1)))
    if (to - from < 2) continue
    const line: GrownPoint[] = []
    for (let i = from; i <= to; i++) {
      const [nx, ny] = across(way, i)
      const at = i * STEP
      const swing = 0.012 * jagged * (2 * smoothNoise(at / 0.06, 0.23 * k, seed) - 1)
      const off = k * apart * (0.75 + 0.5 * smoothNoise(at / 0.09, 5 + k, seed)) + swing
      const t = (i - from) / (to - from)
      line.push([way[i].x + off * nx, way[i].y + off * ny, Math.sin(Math.PI * t) ** 0.8 * (1 - 0.6 * away)])
    }
    lines.push(line)
  }
  return lines
}
