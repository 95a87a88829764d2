import type { ParamValues } from '../params'
import { passPicture } from '../passes/pass-picture'
import { namedChannels, type PassResult } from '../passes/pass-result'
import { srgbToLinear } from '../math/colour'
import { floatToHalf } from '../picture/half-float'
import { coverageMattes, MATTES_BY, type MattesBy } from './coverage-mattes'
import { writeExr, type ExrChannel } from './exr'
import { toExr } from './pass-exr'
import { lineCoverage } from './pass-file'

/** A pass as layers of an EXR. */
export interface ExrLayer {
  readonly name: string
  readonly result: PassResult
  readonly look: ParamValues
}

/** What goes into an EXR of many layers. */
export interface LayeredExr {
  /** All of one size. The picture of the first is the file's own. */
  readonly layers: readonly ExrLayer[]
  /** Mattes, from an ID pass of the same size. */
  readonly mattes: readonly MattesBy[]
  readonly idPass: PassResult | null
  /** `half` keeps half as many bits of what is a fraction; mattes and numbers of surfaces stay exact. */
  readonly precision: 'kept' | 'half'
}

/** A name that readers take for one layer: dots would nest it. */
const layerName = (name: string): string => name.replace(/[^\p{L}\p{N}_ -]+/gu, '_').trim() || 'layer'

const MATTE_LAYERS: Readonly<Record<MattesBy, string>> = {
  part: 'MattePart',
  material: 'MatteMaterial',
  group: 'MatteGroup',
}

/** Passes as one EXR: `layer.channel` for every channel that they are rendered in, and a picture that every reader shows. */
export function writeLayeredExr({ layers, mattes, idPass, precision }: LayeredExr): Uint8Array {
  const [first] = layers
  const { width, height } = first.result
  const taken = new Set<string>()
  const all: ExrChannel[] = pictureChannels(first)
  for (const { name, result, look } of layers) {
    const base = layerName(name)
    let own = base
    for (let k = 2; taken.has(own.toLowerCase()); k++) own = `${base}_${k}`
    taken.add(own.toLowerCase())
    for (const channel of rawChannels(result, look))
      all.push({ ...narrowed(channel, precision), name: `${own}.${channel.name}` })
  }
  const found = idPass
    ? MATTES_BY.filter((by) => mattes.includes(by)).map((by) => coverageMattes(idPass, by, MATTE_LAYERS[by]))
    : []
  return writeExr(
    width,
    height,
    [...all, ...found.flatMap(({ channels }) => channels)],
    found.flatMap(({ texts }) => texts),
  )
}

/** Channels as they are kept; of lines, how much of each pixel they cover. */
function rawChannels(result: PassResult, look: ParamValues): ExrChannel[] {
  const coverage = lineCoverage(result, look)
  return coverage ? [coverage] : namedChannels(result).map(toExr)
}

/** The picture of a layer: linear light, premultiplied. */
function pictureChannels({ result, look }: ExrLayer): ExrChannel[] {
  const { width, height, pixels } = passPicture(result, look)
  return ['R', 'G', 'B', 'A'].map((name, c) => ({
    name,
    type: 'half',
    data: Float32Array.from({ length: width * height }, (_, i) =>
      c === 3 ? pixels[4 * i + 3] : srgbToLinear(pixels[4 * i + c]) * pixels[4 * i + 3],
    ),
  }))
}

function narrowed(channel: ExrChannel, precision: LayeredExr['precision']): ExrChannel {
  if (precision === 'kept' || channel.type !== 'float') return channel
  return { ...channel, type: 'half', data: Uint16Array.from(channel.data, floatToHalf) }
}
