import { strToU8 } from 'fflate'
import type { PassResult } from '../passes/pass-result'
import type { Surface } from '../passes/pass-kind'
import { ID_PAIRS, NO_SURFACE } from '../passes/id'
import type { ExrChannel } from './exr'

/**
 * Mattes of parts, materials or groups in EXR channels, by the convention published in 2015 ("Fully automatic ID mattes with support
 * for motion blur and transparency", SIGGRAPH 2015 posters; specification 1.2): of each pixel the names that cover it as hashes, the
 * largest first, and how much of it each covers. Hashes are 32-bit floats; the manifest in the header names them.
 */
export const MATTES_BY = ['part', 'material', 'group'] as const
export type MattesBy = (typeof MATTES_BY)[number]

/** A text in the header of an EXR. */
export interface ExrText {
  readonly name: string
  readonly value: string
}

/** Under which readers look for mattes in the header. */
const HEADER = 'cryptomatte'

const nameOf = (by: MattesBy, { partName, materialName, groups }: Surface): string =>
  by === 'part' ? partName : by === 'material' ? materialName : (groups.at(0) ?? partName)

/**
 * @param idPass an ID pass.
 * @param layer what the channels begin with.
 */
export function coverageMattes(
  idPass: PassResult,
  by: MattesBy,
  layer: string,
): { readonly channels: ExrChannel[]; readonly texts: ExrText[] } {
  const { width, height, surfaces, channels } = idPass
  const count = width * height
  const names = [...new Set(surfaces.map((surface) => nameOf(by, surface)))]
  const numberOf = new Map(names.map((name, i) => [name, i]))
  const ofSurface = surfaces.map((surface) => numberOf.get(nameOf(by, surface)) ?? 0)
  const ids = Float32Array.from(names, (name) => hashAsFloat(nameHash(name)))
  const planes = Array.from({ length: 2 * ID_PAIRS }, () => new Float32Array(count))
  const found = new Map<number, number>()
  for (let p = 0; p < count; p++) {
    found.clear()
    // Shares of 8 bits may come to a little more than all of a pixel.
    let total = 0
    for (let k = 0; k < ID_PAIRS; k++) if (channels[k][p] !== NO_SURFACE) total += channels[ID_PAIRS + k][p]
    const whole = Math.max(255, total)
    for (let k = 0; k < ID_PAIRS; k++) {
      const surface = channels[k][p]
      const weight = channels[ID_PAIRS + k][p]
      if (surface === NO_SURFACE || weight === 0) continue
      const name = ofSurface[surface]
      found.set(name, (found.get(name) ?? 0) + weight / whole)
    }
    const ranked = [...found].sort(([a, wa], [b, wb]) => wb - wa || a - b)
    for (const [rank, [name, weight]] of ranked.entries()) {
      planes[2 * rank][p] = ids[name]
      planes[2 * rank + 1][p] = Math.min(1, weight)
    }
  }
  const key = hex(nameHash(layer)).slice(0, 7)
  const manifest = Object.fromEntries(names.map((name) => [name, hex(floatHash(nameHash(name)))]))
  return {
    channels: planes.map((data, i) => ({
      // Two ranks in each group of four channels.
      name: `${layer}${String(i >> 2).padStart(2, '0')}.${'RGBA'[i & 3]}`,
      type: 'float' as const,
      data,
    })),
    texts: [
      { name: `${HEADER}/${key}/name`, value: layer },
      { name: `${HEADER}/${key}/hash`, value: 'MurmurHash3_32' },
      { name: `${HEADER}/${key}/conversion`, value: 'uint32_to_float32' },
      { name: `${HEADER}/${key}/manifest`, value: JSON.stringify(manifest) },
    ],
  }
}

/** How much of each pixel a name covers, from such channels. A name that is not there covers nothing. */
export function matteCoverage(channels: readonly ExrChannel[], layer: string, name: string): Float32Array {
  const id = hashAsFloat(nameHash(name))
  const own = channels
    .filter(({ name: own }) => own.startsWith(layer) && /^\d\d\.[RGBA]$/.test(own.slice(layer.length)))
    .sort((a, b) => order(a.name) - order(b.name))
  const out = new Float32Array(own[0]?.data.length ?? 0)
  for (let i = 0; i + 1 < own.length; i += 2)
    for (let p = 0; p < out.length; p++) if (own[i].data[p] === id) out[p] += own[i + 1].data[p]
  return out
}

const order = (name: string): number => 4 * Number(name.slice(-4, -2)) + 'RGBA'.indexOf(name.slice(-1))

/** MurmurHash3, x86, 32 bits, seed 0 (A. Appleby, 2011), of the UTF-8 of a name. */
export function nameHash(name: string): number {
  const bytes = strToU8(name)
  const mixed = (k: number) => {
    const first = Math.imul(k, 0xcc9e2d51)
    return Math.imul((first << 15) | (first >>> 17), 0x1b873593)
  }
  let hash = 0
  const whole = bytes.length & ~3
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  for (let i = 0; i < whole; i += 4) {
    hash ^= mixed(view.getUint32(i, true))
    hash = (Math.imul((hash << 13) | (hash >>> 19), 5) + 0xe6546b64) | 0
  }
  let tail = 0
  for (let i = bytes.length - 1; i >= whole; i--) tail = (tail << 8) | bytes[i]
  if (whole < bytes.length) hash ^= mixed(tail)
  hash ^= bytes.length
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}

/** Bits that would be no number, infinite or denormal as a float are made some that are (specification, "hash to float"). */
const floatHash = (hash: number): number => {
  const exponent = (hash >>> 23) & 255
  return (exponent === 0 || exponent === 255 ? hash ^ (1 << 23) : hash) >>> 0
}

const bits = new DataView(new ArrayBuffer(4))
const hashAsFloat = (hash: number): number => {
  bits.setUint32(0, floatHash(hash))
  return bits.getFloat32(0)
}
const hex = (hash: number): string => hash.toString(16).padStart(8, '0')
