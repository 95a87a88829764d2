import { strFromU8 } from 'fflate'
import { UnreadableFileError } from '../../errors'
import { validateMesh } from '../../geometry/polygon-mesh'
import { seededRandom } from '../../math/sampling'
import { readModel } from '../model-readers'
import type { HardFile } from './hard-file'
import { joined, utf8 } from './hard-file'

/** What numbers and words are changed to: the ends of what can be said. */
const NASTY = [
  '0',
  '-1',
  '1e999',
  'nan',
  '4294967295',
  '999999999999',
  '-2147483648',
  '1e-320',
  '',
  '"',
  '{',
  '\\',
  '\u0000',
]

export type Random = () => number
const whole = (random: Random, below: number): number => Math.floor(random() * Math.max(1, below))

/** One way to spoil bytes. */
const SPOILERS: readonly ((bytes: Uint8Array, random: Random, other: Uint8Array) => Uint8Array)[] = [
  // Some bits.
  (bytes, random) => {
    const out = bytes.slice()
    for (let n = 1 + whole(random, 8); n > 0; n--) out[whole(random, out.length)] ^= 1 << whole(random, 8)
    return out
  },
  // A few bytes in a row, all ones or all zeros: lengths and counts.
  (bytes, random) =>
    bytes
      .slice()
      .fill(random() < 0.5 ? 255 : 0, whole(random, bytes.length), whole(random, bytes.length) + 4),
  (bytes, random) => {
    const at = whole(random, bytes.length)
    return bytes.slice().fill(random() < 0.5 ? 255 : 0, at, at + 1 + whole(random, 8))
  },
  // Cut off.
  (bytes, random) => bytes.slice(0, whole(random, bytes.length)),
  // A piece left out, or twice.
  (bytes, random) => {
    const at = whole(random, bytes.length)
    const end = at + whole(random, 64)
    return random() < 0.5
      ? joined(bytes.subarray(0, at), bytes.subarray(end))
      : joined(bytes.subarray(0, end), bytes.subarray(at))
  },
  // A word for another.
  (bytes, random) => {
    const at = whole(random, bytes.length)
    let end = at
    while (end < bytes.length && bytes[end] > 32 && end - at < 24) end++
    return joined(bytes.subarray(0, at), utf8(NASTY[whole(random, NASTY.length)]), bytes.subarray(end))
  },
  // The head of one file on the body of another.
  (bytes, random, other) =>
    joined(bytes.subarray(0, whole(random, bytes.length)), other.subarray(whole(random, other.length))),
]

/** Bytes spoiled in one way. @param other another file, whose end may come instead. */
export const spoilBytes = (bytes: Uint8Array, random: Random, other: Uint8Array): Uint8Array =>
  SPOILERS[whole(random, SPOILERS.length)](bytes, random, other)

/** Values a document's leaf is changed to. */
const LEAVES: readonly unknown[] = [
  0,
  1,
  2,
  3,
  5,
  -1,
  0.5,
  1e9,
  2 ** 32,
  5121,
  5123,
  5126,
  'VEC2',
  'VEC3',
  'SCALAR',
  'x',
  null,
  true,
  [],
  {},
]

/** Changes, drops or doubles something inside a document, which stays one. */
export function spoilDocument(json: unknown, random: Random): void {
  let at = json
  for (let depth = 0; depth < 12 && typeof at === 'object' && at !== null; depth++) {
    const holder = at as Record<string, unknown>
    const keys = Object.keys(holder)
    if (keys.length === 0) return
    const key = keys[whole(random, keys.length)]
    const inside = holder[key]
    if (typeof inside === 'object' && inside !== null && random() < 0.85) {
      at = inside
      continue
    }
    if (random() < 0.15) Reflect.deleteProperty(holder, key)
    else if (Array.isArray(holder) && random() < 0.3) holder.push(inside)
    else holder[key] = LEAVES[whole(random, LEAVES.length)]
    return
  }
}

/** A GLB or glTF whose text is spoiled as a document, its chunks sound; null where its text is none. */
function spoilGltf(bytes: Uint8Array, random: Random): Uint8Array | null {
  const isGlb = bytes.length >= 20 && bytes[0] === 0x67 && bytes[1] === 0x6c
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const length = isGlb ? view.getUint32(12, true) : bytes.length
  const start = isGlb ? 20 : 0
  let json: unknown
  try {
    json = JSON.parse(strFromU8(bytes.subarray(start, start + length)))
  } catch {
    return null
  }
  for (let n = 1 + whole(random, 3); n > 0; n--) spoilDocument(json, random)
  const text = utf8(JSON.stringify(json))
  if (!isGlb) return text
  const padded = joined(text, new Uint8Array((4 - (text.length % 4)) % 4).fill(32))
  const out = joined(bytes.subarray(0, 20), padded, bytes.subarray(start + length))
  const head = new DataView(out.buffer)
  head.setUint32(8, out.length, true)
  head.setUint32(12, padded.length, true)
  return out
}

/** Files longer than this are left to the corpus: spoiling them again and again takes long and finds nothing new. */
const LONGEST = 8192

export interface FuzzFinding {
  readonly seed: number
  readonly from: string
  readonly entry: string
  readonly files: ReadonlyMap<string, Uint8Array>
  readonly error: unknown
}

/** One of the files, spoiled. The same seed always spoils the same file in the same way. */
export function spoiled(
  list: readonly HardFile[],
  seed: number,
): { readonly file: HardFile; readonly files: ReadonlyMap<string, Uint8Array> } {
  const random = seededRandom(seed)
  // The first numbers of near seeds are alike.
  for (let i = 0; i < 8; i++) random()
  const short = list.filter(({ files, entry }) => {
    const length = files.get(entry)?.length ?? 0
    return length > 0 && length <= LONGEST
  })
  // What is read is worth more spoiling than what is refused anyway.
  const sound = short.filter(({ want }) => typeof want === 'number')
  const choice = sound.length > 0 && random() < 0.85 ? sound : short
  const file = choice[whole(random, choice.length)]
  const names = [...file.files.keys()]
  // Mostly the model itself, now and then what lies beside it.
  const name = random() < 0.8 ? file.entry : names[whole(random, names.length)]
  const other = short[whole(random, short.length)]
  let bytes = file.files.get(name) ?? new Uint8Array(0)
  const document = /gl(tf|b)$/.test(name) && random() < 0.7 ? spoilGltf(bytes, random) : null
  if (document) bytes = document
  for (let n = document ? whole(random, 1.4) : random() < 0.6 ? 1 : 2; n > 0; n--)
    bytes = spoilBytes(bytes, random, other.files.get(other.entry) ?? bytes)
  return { file, files: new Map([...file.files, [name, bytes]]) }
}

/**
 * Reads one spoiled file.
 * @returns what went wrong, where anything but a sound mesh or a refusal by name came of it; else null.
 */
export async function fuzzOnce(list: readonly HardFile[], seed: number): Promise<FuzzFinding | null> {
  const { file, files } = spoiled(list, seed)
  try {
    const model = await readModel(files, file.entry)
    validateMesh(model.mesh)
    for (const n of model.mesh.cornerNormals)
      if (!Number.isFinite(n)) throw new Error('a normal is no finite number')
    return null
  } catch (error) {
    if (error instanceof UnreadableFileError && error.message.startsWith(file.entry)) return null
    return { seed, from: file.name, entry: file.entry, files, error }
  }
}
