import { decodeChannel } from '../picture/channel'
import { ID_PAIRS } from './id'
import { resizePlaneWindow } from '../picture/resample'
import { namedChannels, surfaceCoverage, type PassResult } from './pass-result'

/** How far away a part of the shot is, as it is seen. Depths are fitted: 0 at the subject's nearest point, 1 at its farthest. */
export interface PartDepth {
  readonly part: string
  readonly name: string
  /** The mean over what is seen of it: what parts are ordered by. */
  readonly depth: number
  readonly nearest: number
  readonly farthest: number
  /** Share of the picture that it covers. */
  readonly covers: number
  /** What it lies in, in pixels of the ID pass: left, top, right, below. */
  readonly box: readonly [number, number, number, number]
}

const known = new WeakMap<
  PassResult,
  { readonly depthPass: PassResult; readonly parts: readonly PartDepth[] }
>()

/**
 * The parts that are seen, from the farthest to the nearest.
 * @param idPass says what covers each pixel and by how much; @param depthPass of the same shot, of any size.
 */
export function partDepths(idPass: PassResult, depthPass: PassResult): readonly PartDepth[] {
  const held = known.get(idPass)
  if (held?.depthPass === depthPass) return held.parts
  const parts = measured(idPass, depthPass)
  known.set(idPass, { depthPass, parts })
  return parts
}

function measured(idPass: PassResult, depthPass: PassResult): PartDepth[] {
  const { width, height, surfaces, channels } = idPass
  const depths = namedChannels(depthPass).find(({ name }) => name === 'Z')
  if (!depths) return []
  const { near, far } = depthPass.facts
  const from = typeof near === 'number' ? near : 0
  const span = typeof far === 'number' ? Math.max(1e-9, far - from) : 1
  // 1. Parts by number: several surfaces may be of one.
  const keys = [...new Set(surfaces.map(({ part }) => part))]
  const numberOf = new Map(keys.map((key, i) => [key, i]))
  const partOf = surfaces.map(({ part }) => numberOf.get(part) ?? 0)
  const sums = keys.map(() => ({
    weight: 0,
    depth: 0,
    nearest: Infinity,
    farthest: -Infinity,
    box: [Infinity, Infinity, -Infinity, -Infinity],
  }))
  // 2. What each pixel says of the part that covers most of it.
  const row = new Float32Array(depthPass.width)
  let decoded = -1
  for (let y = 0, i = 0; y < height; y++) {
    const depthRow = Math.min(depthPass.height - 1, Math.floor(((y + 0.5) * depthPass.height) / height))
    if (depthRow !== decoded) decodeChannel(depths, depthRow * depthPass.width, depthPass.width, row)
    decoded = depthRow
    for (let x = 0; x < width; x++, i++) {
      const id = channels[0][i]
      const weight = channels[ID_PAIRS][i] / 255
      if (id >= surfaces.length || weight <= 0) continue
      const column = Math.min(depthPass.width - 1, Math.floor(((x + 0.5) * depthPass.width) / width))
      const depth = (row[column] - from) / span
      if (!Number.isFinite(depth)) continue
      const own = sums[partOf[id]]
      own.weight += weight
      own.depth += weight * depth
      // A pixel that others share may have the depth of what lies behind.
      if (weight > 0.98) {
        own.nearest = Math.min(own.nearest, depth)
        own.farthest = Math.max(own.farthest, depth)
      }
      const { box } = own
      box[0] = Math.min(box[0], x)
      box[1] = Math.min(box[1], y)
      box[2] = Math.max(box[2], x + 1)
      box[3] = Math.max(box[3], y + 1)
    }
  }
  return sums
    .map(({ weight, depth, nearest, farthest, box }, i): PartDepth & { readonly weight: number } => {
      const mean = depth / Math.max(1e-9, weight)
      const surface = surfaces.find(({ part }) => part === keys[i])
      return {
        part: keys[i],
        name: surface?.partName ?? keys[i],
        depth: mean,
        nearest: Math.min(nearest, mean),
        farthest: Math.max(farthest, mean),
        covers: weight / (width * height),
        box: [box[0], box[1], box[2], box[3]],
        weight,
      }
    })
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => b.depth - a.depth || (a.part < b.part ? -1 : 1))
}

/** A part's silhouette, as large as fits into a square. @returns side × side bytes, 255 is covered. */
export function partSilhouette(
  idPass: PassResult,
  { part, box: [left, top, right, below] }: Pick<PartDepth, 'part' | 'box'>,
  side: number,
): Uint8Array<ArrayBuffer> {
  const chosen = Uint8Array.from(idPass.surfaces, (surface) => Number(surface.part === part))
  const out = new Uint8Array(side * side)
  const rect = { x: left, y: top, width: right - left, height: below - top }
  const longest = Math.max(rect.width, rect.height)
  const shown = {
    width: Math.max(1, Math.round((rect.width * side) / longest)),
    height: Math.max(1, Math.round((rect.height * side) / longest)),
  }
  const across = { pixels: rect.width, origin: 0, length: shown.width }
  const down = { pixels: rect.height, origin: 0, length: shown.height }
  const plane = resizePlaneWindow(
    (own) => surfaceCoverage(idPass, chosen, { ...own, x: rect.x + own.x, y: rect.y + own.y }),
    across,
    down,
    { x: 0, y: 0, ...shown },
  )
  const [x0, y0] = [Math.floor((side - shown.width) / 2), side - shown.height]
  for (let y = 0; y < shown.height; y++)
    for (let x = 0; x < shown.width; x++)
      out[(y0 + y) * side + x0 + x] = Math.round(255 * Math.min(1, Math.max(0, plane[y * shown.width + x])))
  return out
}

/** Keys of the parts that are nearer than something that stands at a depth. */
export const partsNearer = (parts: readonly PartDepth[], depth: number): string[] =>
  parts.filter((own) => own.depth < depth).map(({ part }) => part)
