/**
 * Deterministic low-discrepancy samples: the Sobol (0,2)-sequence with hash-based Owen scrambling.
 * Sources: Sobol 1967; Burley 2020, "Practical Hash-based Owen Scrambling", JCGT 9(4);
 * the base hash is the `lowbias32` family of integer hashes.
 */

/** Mixes 32 bits well enough that neighbouring inputs share nothing. Returns an unsigned 32-bit integer. */
export function hash32(value: number): number {
  let x = value | 0
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad)
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97)
  return (x ^ (x >>> 15)) >>> 0
}

/** A hash of two integers, for seeds by pixel and dimension. */
export const hashPair = (a: number, b: number): number => hash32(Math.imul(a, 0x9e3779b1) ^ hash32(b))

function reverseBits32(value: number): number {
  let x = value
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1)
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2)
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4)
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8)
  return (x >>> 16) | (x << 16)
}

/** Laine–Karras style permutation: an Owen scramble of a number whose base-2 digits are given reversed. */
function scrambleReversed32(reversed: number, seed: number): number {
  let x = reversed
  x ^= Math.imul(x, 0x3d20adea)
  x = (x + seed) | 0
  x = Math.imul(x, (seed >>> 16) | 1)
  x ^= Math.imul(x, 0x05526c56)
  x ^= Math.imul(x, 0x53a22864)
  return x
}

/**
 * Second Sobol dimension of an index, bits reversed: the direction numbers of the polynomial x + 1 are Pascal's triangle
 * modulo 2, in which bit j reaches bit k where k's own bits are among j's (Lucas), so five steps do for all 32.
 */
function sobolSecondReversed32(index: number): number {
  let x = index
  x ^= (x >>> 1) & 0x55555555
  x ^= (x >>> 2) & 0x33333333
  x ^= (x >>> 4) & 0x0f0f0f0f
  x ^= (x >>> 8) & 0x00ff00ff
  return x ^ ((x >>> 16) & 0x0000ffff)
}

const TO_UNIT = 1 / 4294967296

/** What was last hashed: most samples are drawn from the seed of the one before. */
let hashedSeed = 0
let hashedX = hash32(0x68bc21eb)
let hashedY = hash32(0x02e5be93)

/**
 * Sample `index` of the scrambled (0,2)-sequence owned by `seed`; writes two numbers in [0, 1) to `out`.
 * The index itself is shuffled, so sequences of different seeds are independent.
 */
export function sobolPair(index: number, seed: number, out: Float64Array): void {
  if (seed !== hashedSeed) {
    hashedSeed = seed
    hashedX = hash32(seed ^ 0x68bc21eb)
    hashedY = hash32(seed ^ 0x02e5be93)
  }
  const shuffled = reverseBits32(scrambleReversed32(reverseBits32(index), seed))
  out[0] = (reverseBits32(scrambleReversed32(shuffled, hashedX)) >>> 0) * TO_UNIT
  out[1] = (reverseBits32(scrambleReversed32(sobolSecondReversed32(shuffled), hashedY)) >>> 0) * TO_UNIT
}

/** Spreads the low 10 bits of a number to the even places. */
function spreadBits10(value: number): number {
  let x = value & 1023
  x = (x | (x << 8)) & 0x00ff00ff
  x = (x | (x << 4)) & 0x0f0f0f0f
  x = (x | (x << 2)) & 0x33333333
  return (x | (x << 1)) & 0x55555555
}

/**
 * A pixel's place along the Z-order curve through its block of 1024 × 1024 pixels. When neighbouring pixels take
 * neighbouring runs of one scrambled sequence, their errors differ in sign and cancel for the eye and under every
 * reduction (Ahmed & Wonka 2020, "Screen-space Blue-noise Diffusion of Monte Carlo Sampling Error via Hierarchical
 * Ordering of Pixels").
 */
export const pixelOrder = (x: number, y: number): number => spreadBits10(x) | (spreadBits10(y) << 1)

/** A seed for each block of {@link pixelOrder}. */
export const blockSeed = (x: number, y: number, seed: number): number =>
  hashPair(hashPair(x >> 10, y >> 10), seed)

/**
 * The samples of one pixel as a run of a sequence shared with its neighbours. Reused: `start` sets it to a pixel,
 * `sample` counts the camera samples taken of it.
 */
export class PixelRun {
  seed = 0
  sample = 0
  private order = 0
  /** Length of the run that was last asked for. */
  private asked = 1
  private run = 1

  constructor(
    private readonly samples: number,
    private readonly sceneSeed: number,
  ) {}

  start(x: number, y: number): void {
    this.seed = blockSeed(x, y, this.sceneSeed)
    this.order = pixelOrder(x, y)
    this.sample = 0
  }

  /**
   * Index of the first of `rays` numbers that belong to the current camera sample. A pixel's run is a power of two
   * long, so that it is a whole elementary interval of the sequence.
   * @param samples the pixel's own number of samples.
   */
  first(rays: number, samples = this.samples): number {
    const asked = samples * rays
    if (asked !== this.asked) {
      this.asked = asked
      this.run = asked > 1 ? 2 ** (32 - Math.clz32(asked - 1)) : 1
    }
    return this.order * this.run + this.sample * rays
  }
}

/**
 * Sub-pixel positions shared by every pixel and every pass, so that all passes see the same edge: `count` points of the
 * unscrambled (0,2)-sequence, centred. The first four, eight … of them are well spread by themselves, so a pixel may
 * stop early. Float32Array, 2·count, in [0, 1).
 */
export function pixelPattern(count: number): Float32Array {
  const points = new Float32Array(2 * count)
  const bits = Math.ceil(Math.log2(count))
  const shift = 0.5 / 2 ** bits
  // A digital shift puts the first four near the middles of their quarters, so that their mean is the pixel's middle.
  const half = bits > 2 ? 2 ** (bits - 3) : 0
  const shiftX = half * 2 ** (32 - bits)
  const shiftY = Math.max(0, half - 1) * 2 ** (32 - bits)
  for (let i = 0; i < count; i++) {
    points[2 * i] = ((reverseBits32(i) ^ shiftX) >>> 0) * TO_UNIT + shift
    points[2 * i + 1] = ((reverseBits32(sobolSecondReversed32(i)) ^ shiftY) >>> 0) * TO_UNIT + shift
  }
  return points
}

/** Maps two numbers in [0, 1) to the unit disc, area-preserving (Shirley & Chiu 1997). Writes x, y to `out`. */
export function concentricDisc(u: number, v: number, out: Float64Array): void {
  const a = 2 * u - 1
  const b = 2 * v - 1
  if (a === 0 && b === 0) {
    out[0] = 0
    out[1] = 0
    return
  }
  const wide = Math.abs(a) > Math.abs(b)
  const radius = wide ? a : b
  const angle = wide ? (Math.PI / 4) * (b / a) : Math.PI / 2 - (Math.PI / 4) * (a / b)
  out[0] = radius * Math.cos(angle)
  out[1] = radius * Math.sin(angle)
}

/** A small seeded generator for tests and fuzzing (mulberry32). Returns numbers in [0, 1). */
export function seededRandom(seed: number): () => number {
  let state = seed | 0
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) * TO_UNIT
  }
}
