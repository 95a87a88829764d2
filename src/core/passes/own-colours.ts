import type { ChannelSpec } from '../picture/channel'
import type { RenderedLight } from '../scene/rendered-light'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BLOCK_POINTS, NOTHING, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { MaterialLook } from './material-look'
import type { PlacedLight } from './placed-light'
import type { TilePlanes } from './shade-points'

/**
 * Light on surfaces in the colours of their materials: three planes for each light, six for a dome, each in linear red,
 * green and blue, so that colours and strengths of lights stay live.
 */

/** Channels of it, by light: `D0r` …, `D1upr` … */
export const colourNames = (lights: readonly RenderedLight[], kind: string): ChannelSpec[] =>
  lights.flatMap(({ planes }, i) =>
    (planes === 'dome' ? ['up', 'down'] : ['']).flatMap((side) =>
      ['r', 'g', 'b'].map((c) => ({ name: `${kind}${i}${side}${c}`, format: 'half' as const })),
    ),
  )

/** Colours of the points of a block, and what light makes of them. */
export class OwnColours {
  /** The material looked up last. */
  readonly material: MaterialLook
  /** Materials that were looked up since it was last emptied. */
  readonly met = new Set<number>()
  /** Linear colours of the block's points, three a point. */
  private readonly colours = new Float32Array(3 * BLOCK_POINTS)

  constructor(scene: SceneGeometry) {
    this.material = new MaterialLook(scene)
  }

  /**
   * Looks up the materials of a block's points, and adds what glows.
   * @param glowAt first of three planes that take it.
   * @param keeps share that a material keeps of what it gives off.
   * @param each is told of every point, its material loaded.
   */
  lookUp(
    { count, ints, doubles, floats }: PointBlock,
    planes: TilePlanes,
    glowAt: number,
    keeps: (material: number) => number = () => 1,
    each?: (i: number, at: number) => void,
  ): void {
    const { material, colours } = this
    for (let i = 0; i < count; i++) {
      const at = POINT_NUMBERS * i
      if (ints[at + POINT.slot] === NOTHING) continue
      const corners = at / 2 + POINT.weights
      material.load(ints[at + POINT.triangle], doubles[corners], doubles[corners + 1])
      this.met.add(material.material)
      colours[3 * i] = material.r
      colours[3 * i + 1] = material.g
      colours[3 * i + 2] = material.b
      each?.(i, at)
      if (material.glowR + material.glowG + material.glowB === 0) continue
      const pixel = ints[at + POINT.pixel]
      const share = floats[at + POINT.share] * keeps(material.material)
      planes[glowAt][pixel] += material.glowR * share
      planes[glowAt + 1][pixel] += material.glowG * share
      planes[glowAt + 2][pixel] += material.glowB * share
    }
  }

  /**
   * Adds what a light brings in the colours that were looked up.
   * @param brought four values a point.
   * @param first of the light's planes.
   * @param kept one factor a point.
   */
  addLight(
    { count, floats, ints }: PointBlock,
    { values }: PlacedLight,
    brought: Float32Array,
    planes: TilePlanes,
    first: number,
    kept?: Float32Array,
  ): void {
    const { colours } = this
    for (let i = 0; i < count; i++) {
      const at = POINT_NUMBERS * i
      const pixel = ints[at + POINT.pixel]
      const share = floats[at + POINT.share] * (kept ? kept[i] : 1)
      for (let c = 0; c < 3; c++) {
        const colour = colours[3 * i + c] * share
        planes[first + c][pixel] += brought[4 * i + (values === 3 ? c : 0)] * colour
        if (values === 2) planes[first + 3 + c][pixel] += brought[4 * i + 1] * colour
      }
    }
  }
}

/** Adds three planes, each in its own part of a colour, to linear red, green, blue, three numbers a pixel. */
export function addRgb(
  to: Float32Array,
  planes: readonly Float32Array[],
  first: number,
  count: number,
  colour: readonly number[],
  strength = 1,
): void {
  for (let c = 0; c < 3; c++) {
    const factor = colour[c] * strength
    const plane = planes[first + c]
    if (factor !== 0) for (let i = 0; i < count; i++) to[3 * i + c] += plane[i] * factor
  }
}

/** Adds the planes of all lights, as {@link colourNames} orders them, in the colours they are seen in. @returns the next plane. */
export function addColouredLights(
  to: Float32Array,
  planes: readonly Float32Array[],
  first: number,
  count: number,
  lights: readonly RenderedLight[],
  strength: number,
): number {
  let at = first
  for (const { planes: kind, colour, below } of lights) {
    addRgb(to, planes, at, count, colour, strength)
    at += 3
    if (kind !== 'dome') continue
    addRgb(to, planes, at, count, below, strength)
    at += 3
  }
  return at
}
