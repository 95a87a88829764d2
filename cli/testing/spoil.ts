import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { spoilBytes, spoilDocument, type Random } from '@/core/formats/corpus/fuzz'

const whole = (random: Random, below: number): number => Math.floor(random() * Math.max(1, below))

/** A zip with one of its entries spoiled, or its own bytes; null where it is none. */
function spoilZip(bytes: Uint8Array, random: Random): Uint8Array | null {
  let files: Record<string, Uint8Array>
  try {
    files = unzipSync(bytes)
  } catch {
    return null
  }
  const names = Object.keys(files)
  const name = names[whole(random, names.length)]
  if (random() < 0.1) {
    // Left out, or under a name that leads elsewhere.
    const kept = files[name]
    Reflect.deleteProperty(files, name)
    if (random() < 0.5) files[`../../${name}`] = kept
  } else files[name] = spoilText(files[name], random) ?? spoilBytes(files[name], random, files[names[0]])
  return zipSync(files, { level: 0 })
}

/** A JSON document that stays one, spoiled inside; null where it is none. */
function spoilText(bytes: Uint8Array, random: Random): Uint8Array | null {
  if (bytes[0] !== 0x7b && bytes[0] !== 0x5b) return null
  try {
    const document: unknown = JSON.parse(strFromU8(bytes))
    for (let n = 1 + whole(random, 3); n > 0; n--) spoilDocument(document, random)
    return strToU8(JSON.stringify(document))
  } catch {
    return null
  }
}

/** A file spoiled: inside where it is a zip or a document, else byte by byte. */
export function spoilFile(bytes: Uint8Array, random: Random, other: Uint8Array): Uint8Array {
  const inside = random() < 0.75 ? (spoilZip(bytes, random) ?? spoilText(bytes, random)) : null
  if (inside) return inside
  let out = spoilBytes(bytes, random, other)
  while (random() < 0.4) out = spoilBytes(out, random, other)
  return out
}
