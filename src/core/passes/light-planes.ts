import type { RenderedLight } from '../scene/rendered-light'
import type { LightRay, LightSampler } from './light-sampler'
import { OpenRays } from './ray-queue'
import type { PassContext } from './pass-kind'
import type { TilePlanes } from './shade-samples'

/**
 * How the light of a rig is kept: for each light one plane per number it brings, so that strengths and colours stay
 * live. A look reads them back through {@link litPlanes}.
 */

/** Rays for a light that comes from somewhere: its shadow is smoother than a dome's, a quarter does. */
export const raysFor = (sampler: LightSampler, rays: number): number =>
  sampler.values === 1 ? Math.max(1, rays >> 2) : Math.max(1, rays)

/** Planes that a light takes where surfaces have colours: three for each of its colours. */
export const colourPlaneCount = (values: LightSampler['values']): number => (values === 2 ? 6 : 3)

/** One light's open rays: put where a shadow may be, added at once where the light throws none. */
export class LightQueue {
  private readonly queue: OpenRays

  /** @param numbers how many each ray adds, at planes[first] and after. */
  constructor(
    context: PassContext,
    private readonly sampler: LightSampler,
    private readonly first: number,
    private readonly numbers: number,
  ) {
    this.queue = new OpenRays(context.kernel, sampler.filter, first, numbers)
  }

  /** Sets the planes of the tile at work. */
  bind(planes: TilePlanes): void {
    this.queue.planes = planes
  }

  put(
    x: number,
    y: number,
    z: number,
    ray: LightRay,
    pixel: number,
    a: number,
    b = 0,
    c = 0,
    d = 0,
    e = 0,
    f = 0,
  ): void {
    if (this.sampler.light.shadow) {
      this.queue.put(x, y, z, ray.dx, ray.dy, ray.dz, ray.far, pixel, a, b, c, d, e, f)
      return
    }
    const { first, numbers } = this
    const { planes } = this.queue
    planes[first][pixel] += a
    if (numbers > 1) planes[first + 1][pixel] += b
    if (numbers > 2) planes[first + 2][pixel] += c
    if (numbers > 3) planes[first + 3][pixel] += d
    if (numbers > 4) planes[first + 4][pixel] += e
    if (numbers > 5) planes[first + 5][pixel] += f
  }

  flush(): void {
    this.queue.flush()
  }
}

/** A plane of light with the linear colour it is seen in now. */
export interface LitPlane {
  readonly plane: number
  readonly colour: readonly [number, number, number]
  readonly role: 'light' | 'highlight'
}

const only = (c: number, colour: readonly number[]): [number, number, number] => [
  c === 0 ? colour[0] : 0,
  c === 1 ? colour[1] : 0,
  c === 2 ? colour[2] : 0,
]

/** The planes of lights in the order of `lightChannels`, from the first channel on. */
export function litPlanes(lights: readonly RenderedLight[], first = 0): LitPlane[] {
  const out: LitPlane[] = []
  let plane = first
  for (const { planes, colour, below } of lights) {
    if (planes === 'light') {
      out.push({ plane, colour, role: 'light' }, { plane: plane + 1, colour, role: 'highlight' })
      plane += 2
    } else if (planes === 'dome') {
      out.push({ plane, colour, role: 'light' }, { plane: plane + 1, colour: below, role: 'light' })
      plane += 2
    } else {
      for (let c = 0; c < 3; c++) out.push({ plane: plane + c, colour: only(c, colour), role: 'light' })
      plane += 3
    }
  }
  return out
}

/** Adds a plane in a colour to linear red, green, blue, three numbers a pixel. */
export function addPlane(
  to: Float32Array,
  plane: Float32Array,
  count: number,
  colour: readonly number[],
): void {
  const [r, g, b] = colour
  if (r === 0 && g === 0 && b === 0) return
  for (let i = 0; i < count; i++) {
    const value = plane[i]
    to[3 * i] += value * r
    to[3 * i + 1] += value * g
    to[3 * i + 2] += value * b
  }
}
