import { hash32 } from '../math/sampling'
import type { CameraBasis } from '../scene/camera'

/** From where a drawing was found: where in the world a place of the picture lies, at a depth. */
export type LineView = Omit<CameraBasis, 'focus'>

/** Points at either side that tell how far a line goes in the world for its way in the picture. */
const REACH = 3
/** Seen more foreshortened than this a line's noise grows denser with it. */
const MOST_FORESHORTENED = 8
/** Noise of eight corners is so much calmer than noise of two. */
const GAIN = 1.35

/**
 * Where the points of a line lie in the world, and noise at them. What a hand does to a line belongs to the place, not to the
 * line it happens to be part of: while a subject turns, lines break, join and change their direction, and still wobble and run
 * dry where they did. In picture lengths the noise is as long everywhere, near or far, and however foreshortened: it is mixed of
 * the two sizes of a lattice, each twice the last, that are next to what is asked.
 */
export class LinePlaces {
  private places = new Float64Array(0)
  /** World units for a picture's height along the line, at each point. */
  private spans = new Float64Array(0)
  /** Two numbers: the noise found last. */
  readonly found = new Float64Array(2)

  /**
   * Takes up a line.
   * @param xs, ys in picture heights, x from the left, y from the top. @param depths along the view axis, world units.
   * @param view null where it is not known: the picture itself is the world then.
   */
  load(
    { xs, ys, depths, count }: Readonly<Record<'xs' | 'ys' | 'depths', Float32Array>> & { count: number },
    aspect: number,
    view: LineView | null,
  ): void {
    if (this.spans.length < count) {
      this.places = new Float64Array(6 * count)
      this.spans = new Float64Array(2 * count)
    }
    const { places, spans } = this
    for (let i = 0; i < count; i++) {
      if (!view) {
        places[3 * i] = xs[i]
        places[3 * i + 1] = ys[i]
        places[3 * i + 2] = 0
        spans[i] = 1
        continue
      }
      const { eye, right, up, back, parallel } = view
      const far = parallel ? 1 : depths[i]
      const sx = (((2 * xs[i]) / aspect - 1) * view.halfWidth + view.centreX) * far
      const sy = ((1 - 2 * ys[i]) * view.halfHeight + view.centreY) * far
      for (let axis = 0; axis < 3; axis++)
        places[3 * i + axis] = eye[axis] + sx * right[axis] + sy * up[axis] - depths[i] * back[axis]
      spans[i] = 2 * view.halfHeight * far
    }
    if (!view) return
    for (let i = 0; i < count; i++) {
      const [a, b] = [Math.max(0, i - REACH), Math.min(count - 1, i + REACH)]
      const seen = Math.hypot(xs[b] - xs[a], ys[b] - ys[a])
      const there = Math.hypot(
        places[3 * b] - places[3 * a],
        places[3 * b + 1] - places[3 * a + 1],
        places[3 * b + 2] - places[3 * a + 2],
      )
      const most = MOST_FORESHORTENED * spans[i]
      // A point right at the eye has no size.
      spans[i] = Math.max(1e-9, Math.min(most, Math.max(spans[i], seen > 0 ? there / seen : 0)))
    }
  }

  /** Where a point of the line lies in the world. */
  at(i: number): readonly [number, number, number] {
    return [this.places[3 * i], this.places[3 * i + 1], this.places[3 * i + 2]]
  }

  /**
   * Smooth noise at a point of the line, two numbers of −1…1 that know nothing of each other, in {@link found}.
   * @param wavelength in picture heights.
   */
  noise(i: number, wavelength: number, seed: number): void {
    const { places, spans, found } = this
    const size = Math.log2(wavelength * spans[i])
    const level = Math.floor(size)
    const share = size - level
    const even = Math.hypot(1 - share, share)
    found[0] = found[1] = 0
    for (let k = 0; k < 2; k++) {
      const weight = (k === 0 ? 1 - share : share) / even
      if (weight === 0) continue
      const unit = 2 ** -(level + k)
      latticeNoise(
        places[3 * i] * unit,
        places[3 * i + 1] * unit,
        places[3 * i + 2] * unit,
        hash32(seed + Math.imul(level + k, 0x632be5ab)),
        weight * GAIN,
        found,
      )
    }
    for (let c = 0; c < 2; c++) found[c] = Math.min(1, Math.max(-1, found[c]))
  }
}

const fade = (t: number): number => t * t * (3 - 2 * t)

/** Adds two smooth noises of space, −weight…weight, between random values at whole places. */
function latticeNoise(
  x: number,
  y: number,
  z: number,
  seed: number,
  weight: number,
  out: Float64Array,
): void {
  const [x0, y0, z0] = [Math.floor(x), Math.floor(y), Math.floor(z)]
  const [u, v, w] = [fade(x - x0), fade(y - y0), fade(z - z0)]
  for (let corner = 0; corner < 8; corner++) {
    const [dx, dy, dz] = [corner & 1, (corner >> 1) & 1, corner >> 2]
    const part = weight * (dx ? u : 1 - u) * (dy ? v : 1 - v) * (dz ? w : 1 - w)
    if (part === 0) continue
    const key = hash32(
      Math.imul(x0 + dx, 0x9e3779b1) ^ Math.imul(y0 + dy, 0x85ebca6b) ^ Math.imul(z0 + dz, 0x27d4eb2f) ^ seed,
    )
    // Both halves of the number.
    out[0] += part * ((key >>> 16) / 32767.5 - 1)
    out[1] += part * ((key & 0xffff) / 32767.5 - 1)
  }
}
