import { KernelProgram, linearMemory, type LinearMemory } from '../wasm/linear-memory'
import { MOST_PAGES, PLAIN_KERNEL, SHARED_KERNEL } from './picture-binary'

/**
 * What kernel/picture exports: addresses and counts of pixels are 32-bit integers, counts are multiples of 4. Blocks are four
 * pixels, r4 g4 b4 a4: kept (straight, unorm16, 32 bytes) or in f32 (64 bytes). kernel/picture/*.ts say what each does.
 */
export interface PictureExports {
  overKept(mode: number, backdrop: number, layer: number, count: number, opacity: number): void
  overKeptMasked(
    mode: number,
    backdrop: number,
    layer: number,
    mask: number,
    count: number,
    opacity: number,
  ): void
  overKeptWeighed(
    mode: number,
    backdrop: number,
    layer: number,
    weights: number,
    count: number,
    opacity: number,
  ): void
  overWeighed(
    mode: number,
    backdrop: number,
    layer: number,
    weights: number,
    count: number,
    opacity: number,
  ): void
  withinWeighed(
    mode: number,
    backdrop: number,
    layer: number,
    weights: number,
    count: number,
    opacity: number,
  ): void
  rowsToBlocks(rows: number, blocks: number, count: number): void
  blocksToRows(blocks: number, rows: number, count: number): void
  keep(pixels: number, kept: number, count: number): void
  open(kept: number, pixels: number, count: number): void
  straighten(from: number, to: number, count: number): void
  premultiply(from: number, to: number, count: number): void
  clampColours(blocks: number, count: number): void
  makeOpaque(blocks: number, count: number): void
  copy(from: number, to: number, count: number): void
  fill(blocks: number, count: number, r: number, g: number, b: number, a: number): void
  encode(blocks: number, count: number): void
  decode(blocks: number, count: number): void
  toBytes(blocks: number, rows: number, count: number): void
  toWords(blocks: number, rows: number, count: number): void
  keptFlags(kept: number, count: number): number
  maskFlags(mask: number, count: number): number
  throughTables(blocks: number, count: number, red: number, green: number, blue: number): void
  sumShifted(
    input: number,
    out: number,
    width: number,
    height: number,
    reach: number,
    taps: number,
    n: number,
  ): void
  extremeShifted(
    input: number,
    out: number,
    width: number,
    height: number,
    reach: number,
    taps: number,
    n: number,
    isGreatest: number,
  ): void
  gatherOffset(
    input: number,
    out: number,
    width: number,
    height: number,
    reach: number,
    offsets: number,
    weight: number,
    isMore: number,
  ): void
  blurByDepth(
    input: number,
    discs: number,
    depths: number,
    out: number,
    width: number,
    height: number,
    reach: number,
    taps: number,
    n: number,
    bloom: number,
  ): void
  smoothPainterly(
    input: number,
    flow: number,
    out: number,
    width: number,
    height: number,
    reach: number,
    zeta: number,
    bend: number,
    sharpness: number,
  ): void
  toOklab(blocks: number, count: number): void
  fromOklab(blocks: number, count: number): void
  turnOklab(blocks: number, count: number, cos: number, sin: number, lightness: number): void
  noiseSquare(
    out: number,
    side: number,
    x0: number,
    y0: number,
    step: number,
    ax: number,
    ay: number,
    bx: number,
    by: number,
    seed: number,
    octaves: number,
    points: number,
  ): void
  throughCube(blocks: number, count: number, cube: number, n: number, strength: number): void
  byBrightness(
    blocks: number,
    count: number,
    list: number,
    n: number,
    wr: number,
    wg: number,
    wb: number,
    strength: number,
  ): void
  shrink(tile: number, cells: number, d: number): void
  filterAcross(
    cells: number,
    out: number,
    width: number,
    height: number,
    radius: number,
    weights: number,
  ): void
  filterDown(cells: number, out: number, width: number, height: number, radius: number, weights: number): void
  grow(cells: number, tile: number, d: number, line: number): void
  repeatBorder(from: number, to: number, offsetX: number, offsetY: number, lastX: number, lastY: number): void
  maskToBlocks(mask: number, blocks: number, count: number): void
  weighAll(weights: number, count: number, weight: number): void
  weighByMask(weights: number, mask: number, count: number): void
  weighByKeptAlpha(weights: number, layer: number, count: number, opacity: number): void
  weighByAlpha(weights: number, blocks: number, count: number, opacity: number): void
  weighByTone(
    weights: number,
    blocks: number,
    count: number,
    isLinear: number,
    isPremultiplied: number,
    black0: number,
    black1: number,
    white0: number,
    white1: number,
  ): void
  toMask(weights: number, mask: number, count: number): void
  mixBack(blocks: number, before: number, weights: number, count: number, opacity: number): void
}

/** Memory for pictures, `bytes` large: shared between workers where the host offers it. */
export const pictureMemory = (bytes: number, shared?: boolean): LinearMemory =>
  linearMemory(bytes, MOST_PAGES, shared)

const program = new KernelProgram<PictureExports>(PLAIN_KERNEL, SHARED_KERNEL)

/** The picture kernel over a memory. */
export const pictureKernelOver = (memory: LinearMemory): PictureExports => program.over(memory)
