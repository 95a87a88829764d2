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
  // Strokes of a brush: kernel/picture/stamp.ts.
  pressTip(
    cover: number,
    x: number,
    y: number,
    ax: number,
    ay: number,
    bx: number,
    by: number,
    tip: number,
    side: number,
    flow: number,
    grain: number,
    grainSide: number,
    gx: number,
    gy: number,
    step: number,
    bite: number,
  ): number
  layColour(
    base: number,
    cover: number,
    within: number,
    to: number,
    count: number,
    r: number,
    g: number,
    b: number,
    opacity: number,
  ): void
  layPicture(
    base: number,
    cover: number,
    within: number,
    source: number,
    to: number,
    count: number,
    opacity: number,
  ): void
  takeAway(base: number, cover: number, within: number, to: number, count: number, opacity: number): void
  turnTone(
    base: number,
    cover: number,
    within: number,
    to: number,
    count: number,
    towards: number,
    r: number,
    g: number,
    b: number,
    opacity: number,
    from: number,
    full: number,
    last: number,
    to4: number,
  ): void
  layMask(
    base: number,
    empty: number,
    cover: number,
    within: number,
    to: number,
    count: number,
    value: number,
    opacity: number,
  ): void
  sampleRows(
    rows: number,
    width: number,
    height: number,
    out: number,
    side: number,
    x0: number,
    y0: number,
    stepX: number,
    stepY: number,
  ): void
  gatherKept(kept: number, region: number, width: number, height: number, left: number, top: number): void
  workOver(
    made: number,
    cover: number,
    within: number,
    region: number,
    width: number,
    height: number,
    left: number,
    top: number,
    kind: number,
    dx: number,
    dy: number,
    opacity: number,
  ): void
  // Effects of each pixel: kernel/picture/points.ts.
  mixTowards(blocks: number, weights: number, count: number, r: number, g: number, b: number): void
  screenTowards(blocks: number, weights: number, count: number, r: number, g: number, b: number): void
  mixAway(blocks: number, weights: number, count: number, r: number, g: number, b: number): void
  screenOver(blocks: number, other: number, count: number, r: number, g: number, b: number): void
  weighByEllipse(
    weights: number,
    side: number,
    x0: number,
    y0: number,
    step: number,
    cx: number,
    cy: number,
    rx: number,
    ry: number,
    from: number,
    to: number,
    amount: number,
  ): void
  weighByRange(weights: number, plane: number, count: number, from: number, to: number, amount: number): void
  weighByDarks(weights: number, blocks: number, count: number, upTo: number, amount: number): void
  weighByTurn(weights: number, facing: number, count: number, narrow: number, amount: number): void
  weighByNumbers(weights: number, plane: number, count: number): void
  weighBySide(weights: number, nx: number, ny: number, count: number, cos: number, sin: number): void
  weighByTooth(
    weights: number,
    blocks: number,
    tooth: number,
    one: number,
    other: number,
    count: number,
    amount: number,
  ): void
  tintRanges(
    blocks: number,
    count: number,
    da: number,
    db: number,
    dark: number,
    ma: number,
    mb: number,
    middle: number,
    la: number,
    lb: number,
    light: number,
  ): void
  turnByNormal(blocks: number, up: number, towards: number, count: number, chroma: number, warm: number): void
  addGrain(
    blocks: number,
    count: number,
    amount: number,
    noise: number,
    finer: number,
    colour: number,
    r0: number,
    r1: number,
    g0: number,
    g1: number,
    b0: number,
    b1: number,
  ): void
  standOut(blocks: number, other: number, count: number, amount: number): void
  sharpen(blocks: number, other: number, count: number, amount: number, threshold: number): void
  wearOff(blocks: number, other: number, noise: number, count: number, amount: number, soft: number): void
  /** See kernel/picture/pixels.ts: a kept tile at half its size, as quarter `x`, `y` (0 or 1) of another. */
  halve(from: number, to: number, x: number, y: number): void
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
  // Whole pictures in rows: kernel/picture/resize.ts, kernel/picture/smooth.ts.
  premultiplyRows(rows: number, count: number): void
  straightenRows(rows: number, count: number): void
  resizeAcross4(
    source: number,
    length: number,
    target: number,
    width: number,
    height: number,
    starts: number,
    weights: number,
    taps: number,
  ): void
  resizeAcross1(
    source: number,
    length: number,
    target: number,
    width: number,
    row: number,
    height: number,
    starts: number,
    weights: number,
    taps: number,
  ): void
  resizeDown(
    source: number,
    target: number,
    length: number,
    height: number,
    starts: number,
    weights: number,
    taps: number,
  ): void
  smoothSurfaces(
    form: number,
    values: number,
    next: number,
    plane: number,
    planes: number,
    scales: number,
    neighbours: number,
    from: number,
    width: number,
    height: number,
    row: number,
    step: number,
  ): void
}

/** Memory for pictures, `bytes` large: shared between workers where the host offers it. */
export const pictureMemory = (bytes: number, shared?: boolean): LinearMemory =>
  linearMemory(bytes, MOST_PAGES, shared)

const program = new KernelProgram<PictureExports>(PLAIN_KERNEL, SHARED_KERNEL)

/** The picture kernel over a memory. */
export const pictureKernelOver = (memory: LinearMemory): PictureExports => program.over(memory)
