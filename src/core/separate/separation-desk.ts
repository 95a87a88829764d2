import { writePng } from '../formats/png'
import type { ParamValues } from '../params'
import { passPicture } from '../passes/pass-picture'
import { namedChannels, type PassResult } from '../passes/pass-result'
import type { Tile } from '../passes/tile'
import { decodeChannel } from '../picture/channel'
import { premultiplied, toStraight16, toStraight8 } from '../picture/rgba-picture'
import type { Frame } from '../scene/camera'
import { FrontCounts, frontOrder, type DepthPlane, type FrontOrder } from './front-order'
import { cutOut, filledBox, meanDifference, takeIn, type PixelBox, type Togetherness } from './recombine'
import type { Separation } from './separations'

/** What pictures of sets become. */
export interface SeparationSetting {
  readonly frame: Frame
  /** How many sets there are. */
  readonly count: number
  readonly how: Separation
  /** Whether pictures are cut to what they hold; else they are as large as the frame. */
  readonly trim: boolean
  /** Bits of a channel. */
  readonly bits: 8 | 16
}

/** A picture as a PNG file, and where it lies in the frame. */
export interface PackedPicture extends PixelBox {
  readonly file: Uint8Array<ArrayBuffer>
}

/** The order of the sets, and how far away each is in the mean; Infinity for what is nowhere seen. */
export interface SetOrder {
  readonly front: FrontOrder
  readonly depths: readonly number[]
}

/** Makes pictures of rendered sets, packs them, and lays them together as they come. */
export class SeparationDesk {
  private readonly planes: (DepthPlane | null)[]
  private readonly sum: Float32Array

  constructor(private readonly setting: SeparationSetting) {
    const { count, frame } = setting
    this.planes = new Array<DepthPlane | null>(count).fill(null)
    this.sum = new Float32Array(4 * frame.width * frame.height)
  }

  /** Takes how far away a set alone is. @param window where in the picture of depths. */
  depth(index: number, window: Tile, result: PassResult): void {
    this.planes[index] = { ...window, depths: depthsOf(result) }
  }

  /** The order of all sets; what was told of their depths is let go. */
  order(): SetOrder {
    const counts = new FrontCounts(this.setting.count)
    counts.add(this.planes)
    this.planes.fill(null)
    return { front: frontOrder(counts), depths: counts.meanDepths }
  }

  /**
   * A picture of a set.
   * @param window where it was rendered; null: in the whole frame.
   * @param isPart whether it is one of those that are laid together, which come from the front to the back.
   */
  picture(result: PassResult, look: ParamValues, window: Tile | null, isPart: boolean): PackedPicture {
    const { frame, how, trim, bits } = this.setting
    const shown = isPart ? null : thrownIn(result)
    const own: PixelBox = shown?.box ?? window ?? { x: 0, y: 0, ...frame }
    const pixels = straightPixels(premultiplied(passPicture(shown?.result ?? result, look)), bits)
    // What is laid together is what the files hold.
    if (isPart) takeIn(this.sum, frame.width, fromStraight(pixels), own, togethernessOf(how))
    const cut = trim
      ? trimmed(pixels, own)
      : { pixels: spread(pixels, own, frame), box: { x: 0, y: 0, ...frame } }
    return { ...cut.box, file: packed(cut.pixels, cut.box) }
  }

  /** Of a set that is nowhere in the picture. */
  nothing(): PackedPicture {
    const { frame, trim, bits } = this.setting
    const box = { x: 0, y: 0, ...(trim ? { width: 1, height: 1 } : frame) }
    return { ...box, file: packed(straightPixels(new Float32Array(4 * box.width * box.height), bits), box) }
  }

  /** How far what was laid together is from all of it rendered at once: the mean over pixels and channels, 0…1. */
  difference(result: PassResult, look: ParamValues): number {
    return meanDifference(this.sum, premultiplied(passPicture(result, look)))
  }
}

/** How pictures of sets come together. */
export const togethernessOf = (how: Separation): Togetherness => (how === 'whole' ? 'over' : 'plus')

/** Straight RGBA as files hold it. */
type StraightPixels = Uint8Array<ArrayBuffer> | Uint16Array<ArrayBuffer>

const straightPixels = (pixels: Float32Array, bits: 8 | 16): StraightPixels =>
  bits === 16 ? toStraight16(pixels) : new Uint8Array(toStraight8(pixels).buffer)

/** Straight whole numbers to premultiplied fractions. */
function fromStraight(pixels: StraightPixels): Float32Array {
  const most = pixels instanceof Uint16Array ? 65535 : 255
  return premultiplied({ width: 0, height: 0, pixels: Float32Array.from(pixels, (value) => value / most) })
}

const packed = (pixels: StraightPixels, { width, height }: PixelBox): Uint8Array<ArrayBuffer> =>
  new Uint8Array(writePng(width, height, pixels))

/** A picture cut to what it holds. */
function trimmed(
  pixels: StraightPixels,
  own: PixelBox,
): { readonly pixels: StraightPixels; readonly box: PixelBox } {
  const filled = filledBox(own.width, own.height, (place) => pixels[4 * place + 3] > 0)
  return {
    pixels: cutOut<StraightPixels>(pixels, own.width, filled, 4),
    box: { ...filled, x: own.x + filled.x, y: own.y + filled.y },
  }
}

/** A picture in its place on a clear one. */
function spread(pixels: StraightPixels, box: PixelBox, { width, height }: Frame): StraightPixels {
  const out =
    pixels instanceof Uint16Array ? new Uint16Array(4 * width * height) : new Uint8Array(4 * width * height)
  for (let y = 0; y < box.height; y++)
    out.set(pixels.subarray(4 * y * box.width, 4 * (y + 1) * box.width), 4 * ((box.y + y) * width + box.x))
  return out
}

/** The part of a shadow's or a reflection's picture that holds anything: most throw little. Null for other passes. */
function thrownIn(result: PassResult): { readonly result: PassResult; readonly box: PixelBox } | null {
  if (result.kind !== 'shadow' && result.kind !== 'reflection') return null
  const { width, height } = result
  // What is kept away of each light, or where something is mirrored; half floats of 0 are 0.
  const thrown = namedChannels(result)
    .filter(({ name }) => name.startsWith('S') || name === 'M')
    .map(({ data }) => data)
  const box = filledBox(width, height, (place) => thrown.some((data) => data[place] !== 0))
  const channels = result.channels.map((data) => cutOut(data, width, box, 1))
  return { result: { ...result, width: box.width, height: box.height, channels }, box }
}

/** Depth of each pixel; Infinity where nothing is. */
function depthsOf(result: PassResult): Float32Array {
  const count = result.width * result.height
  const channels = namedChannels(result)
  const plane = (name: string) => {
    const out = new Float32Array(count)
    const channel = channels.find((own) => own.name === name)
    if (channel) decodeChannel(channel, 0, count, out)
    return out
  }
  const [depth, alpha] = [plane('Z'), plane('A')]
  return depth.map((z, p) => (alpha[p] > 0 ? z : Infinity))
}
