/** How a light is told to the kernel. Layout: kernel/light.ts. */
export const LIGHT_BYTES = 112

/** A picture of the surroundings as the kernel draws directions from it; see `DomePicture`. */
export interface LightPicture {
  readonly width: number
  readonly height: number
  /** Float32Array, height + 1: running sums of the rows' weight, from 0 to 1. */
  readonly rows: Float32Array
  /** Float32Array, height · (width + 1): likewise within each row. */
  readonly columns: Float32Array
  /** Float32Array, 3·width·height, linear red, green, blue, from the top row down. */
  readonly pixels: Float32Array
  /** Mean weight over the map with its stretch. */
  readonly mean: number
}

type Numbers3 = readonly [number, number, number]

interface Placed {
  /** Places on it are drawn on a disc, not on a square. */
  readonly isRound: boolean
  /** The two halves of its spans. */
  readonly first: Numbers3
  readonly second: Numbers3
}

/** What the kernel needs to know of a light. */
export type LightRecord =
  /** Parallel light: unit direction to it; spans as tangents. */
  | ({ readonly kind: 'parallel'; readonly to: Numbers3 } & Placed)
  /** Light from a surface at a place. */
  | ({
      readonly kind: 'place'
      readonly middle: Numbers3
      /** Unit axis, out of its face, away from what it is aimed at. */
      readonly axis: Numbers3
      /** Squared distance at which it gives 1, and a factor on top. */
      readonly full: number
      readonly gain: number
      /** Whether it gives less aside of its axis. */
      readonly isFacing: boolean
      /** Cosines at which its cone ends and begins to fade; null: to all sides. */
      readonly cone: { readonly rim: number; readonly fade: number } | null
    } & Placed)
  /** A sky, split by how much each direction looks up or down. */
  | { readonly kind: 'sky' }
  /** A picture of the surroundings, turned round the vertical. */
  | { readonly kind: 'picture'; readonly picture: LightPicture; readonly turnRad: number }

const KINDS = ['parallel', 'place', 'sky', 'picture'] as const
const FLAGS = { shadow: 1, round: 2, facing: 4, cone: 8 } as const

/** Where a picture's arrays are in the kernel's memory. */
export interface PicturePlace {
  readonly rows: number
  readonly columns: number
  readonly pixels: number
}

/**
 * Writes a record.
 * @param salt makes its numbers its own.
 * @param lit address of the table of parts it lights; 0: all.
 * @param picture where its picture is; null where it has none.
 */
export function writeLight(
  to: DataView,
  light: LightRecord,
  salt: number,
  throwsShadow: boolean,
  lit: number,
  picture: PicturePlace | null,
): void {
  const put3 = (at: number, values: Numbers3) => values.forEach((v, k) => to.setFloat32(at + 4 * k, v, true))
  let flags = throwsShadow ? FLAGS.shadow : 0
  to.setUint32(0, KINDS.indexOf(light.kind), true)
  to.setUint32(4, salt, true)
  to.setUint32(12, lit, true)
  if (light.kind === 'parallel' || light.kind === 'place') {
    if (light.isRound) flags |= FLAGS.round
    put3(32, light.first)
    put3(48, light.second)
    put3(16, light.kind === 'parallel' ? light.to : light.middle)
  }
  if (light.kind === 'place') {
    if (light.isFacing) flags |= FLAGS.facing
    if (light.cone) flags |= FLAGS.cone
    to.setFloat32(28, light.full, true)
    to.setFloat32(44, light.cone?.rim ?? -1, true)
    to.setFloat32(60, light.cone?.fade ?? -1, true)
    put3(64, light.axis)
    to.setFloat32(76, light.gain, true)
  }
  if (light.kind === 'picture' && picture) {
    to.setUint32(80, light.picture.width, true)
    to.setUint32(84, light.picture.height, true)
    to.setUint32(88, picture.rows, true)
    to.setUint32(92, picture.columns, true)
    to.setUint32(96, picture.pixels, true)
    to.setFloat32(100, light.picture.mean, true)
    to.setFloat32(104, Math.cos(light.turnRad), true)
    to.setFloat32(108, Math.sin(light.turnRad), true)
  }
  to.setUint32(8, flags, true)
}
