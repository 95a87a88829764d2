import { BLOCKS_LIGHT } from '../scene/part-role'
import type { RenderedLight } from '../scene/rendered-light'
import type { PassContext, TileContext } from './pass-kind'
import { askPoints, texelRays } from './kept-answers'
import { placeLights, type PlacedLight } from './placed-light'
import type { KeptAnswer } from './surface-cache'

/**
 * How the light of a rig is kept: for each light one plane per number it brings, so that strengths and colours stay
 * live. A look reads them back through {@link litPlanes}.
 */

/** Rays for a light that comes from somewhere: its shadow is smoother than a dome's, a quarter does. */
export const raysFor = ({ values }: Pick<PlacedLight, 'values'>, rays: number): number =>
  values === 1 ? Math.max(1, rays >> 2) : Math.max(1, rays)

/** Planes that a light takes where surfaces have colours: three for each of its colours. */
export const colourPlaneCount = (values: PlacedLight['values']): number => (values === 2 ? 6 : 3)

/** Where the planes of each of a list begin, and how many there are in all. */
export function planeOffsets(
  counts: readonly number[],
  first = 0,
): { readonly offsets: number[]; readonly end: number } {
  let end = first
  const offsets = counts.map((count) => {
    const offset = end
    end += count
    return offset
  })
  return { offsets, end }
}

/**
 * What a light brings to the visible points of a block: four values a point, see `PointKernel.lightFrom`. Passes of a job
 * that ask the same share the answer.
 * @param rays for each sample of a full pixel.
 * @param wants `highlight`: drawn by the kernel's `widths`; `whole`: also what would come if nothing were in the way, in
 *   the kernel's `whole`; `single`: as many rays for every point, however many its pixel has.
 */
export function lightOnPoints(
  context: Pick<PassContext, 'kernel' | 'surface'>,
  tile: Pick<TileContext, 'points' | 'cancelled'>,
  placed: PlacedLight,
  rays: number,
  wants: { readonly highlight?: boolean; readonly whole?: boolean; readonly single?: boolean } = {},
): Float32Array {
  const { kernel } = context
  const { points, cancelled } = tile
  const { asked, values, filter } = placed
  const { primary } = kernel.points
  const highlight = (wants.highlight ?? false) && values === 1
  const whole = wants.whole ?? false
  const most = wants.single ? 0 : points.most
  const key = `${placed.key} ${rays} ${most}`
  const known = highlight || whole ? undefined : points.answers.get(key)
  if (known) return known
  if (!asked) return kernel.points.values.fill(0)
  const how = { key: highlight || whole ? '' : answerKey(placed), stride: 4, rays, most }
  askPoints(context, tile, primary, how, (range, rays, most) =>
    kernel.points.lightFrom(range, { rays, most, filter }, asked, { highlight, whole }),
  )
  if (points.blockCount > 1 || cancelled()) return kernel.points.values
  const answer = kernel.points.values.slice(0, 4 * primary.count)
  points.answers.set(key, answer)
  return answer
}

const answerKey = ({ key }: PlacedLight): string => `light ${key}`

/**
 * Of the lights of a pass what may be kept on surfaces: skies, which look the same however they are turned, and pictures of
 * surroundings that stand still. Lights that come from somewhere throw shadows with edges, which texels would soften.
 * @param mask of what is in their way.
 */
export const lightKeeps = (context: PassContext, lightsStay: boolean, mask = BLOCKS_LIGHT): KeptAnswer[] =>
  placeLights(context.rig.lights, { ...context, blockers: { mask, parts: context.blockers } })
    .filter(({ asked }) => asked?.record.kind === 'sky' || (asked?.record.kind === 'picture' && lightsStay))
    .map((placed) => ({
      key: answerKey(placed),
      values: placed.values,
      dark: placed.values,
      rays: texelRays(context.effort),
    }))

/** What a light brings to points that belong to one ray each: `rays` rays from each of the secondary block. */
export function lightOnSecondary(
  { kernel }: Pick<PassContext, 'kernel'>,
  { asked, filter }: PlacedLight,
  rays: number,
): Float32Array {
  const { secondary, values } = kernel.points
  if (!asked) return values.fill(0)
  kernel.points.lightFrom(
    { block: secondary, from: 0, count: secondary.count },
    { rays, most: 1, filter },
    asked,
    { highlight: false, whole: false },
  )
  return values
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
