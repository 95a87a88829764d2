import { strToU8, strFromU8, zipSync, type Zippable } from 'fflate'
import { z } from 'zod'
import { UnreadableFileError } from '../errors'
import { passHeadSchema } from '../passes/check-result'
import { storedSurfaces, type PassResult } from '../passes/pass-result'
import { passKind } from '../passes/registry'
import { readLinePly, writeLinePly } from './line-ply'
import { readPassExr, writePassExr } from './pass-exr'
import type { ZipFile } from './zip-file'

/**
 * A rendered pass with all that a project keeps of it, as one zip: `pass.json` tells what it is and what it cost, `channels.exr`
 * holds its raw channels, `lines.ply` its lines, each where its kind has some.
 */
const ENTRIES = { told: 'pass.json', channels: 'channels.exr', lines: 'lines.ply' } as const

const toldSchema = passHeadSchema.extend({
  version: z.literal(1),
  rays: z.number().min(0),
  /** Of one thread. */
  seconds: z.number().min(0),
  samples: z.number().min(0),
})

/** What rendering a pass took. */
export type BundleCost = Pick<z.infer<typeof toldSchema>, 'rays' | 'seconds' | 'samples'>

/** Always the same bytes for the same pass: zips know no earlier day (APPNOTE.TXT 4.4.6). */
const UNDATED = new Date(1980, 0, 1)

/** Writes a pass and what it cost as one file. */
export function writePassBundle(result: PassResult, cost: BundleCost): Uint8Array {
  const { kind, width, height, surfaces, lights, params, facts, drawing } = result
  const head = { version: 1, kind, width, height, surfaces: storedSurfaces(surfaces), lights, params, facts }
  const files: Zippable = { [ENTRIES.told]: strToU8(JSON.stringify({ ...head, ...cost }) + '\n') }
  // Packed inside already.
  if (result.channels.length > 0) files[ENTRIES.channels] = [writePassExr(result), { level: 0 }]
  if (drawing) files[ENTRIES.lines] = writeLinePly(drawing)
  return zipSync(files, { mtime: UNDATED })
}

/**
 * Reads back what {@link writePassBundle} wrote.
 * @throws {UnreadableFileError} naming the file, and the entry or field that is wrong.
 */
export async function readPassBundle(
  zip: Pick<ZipFile, 'read' | 'has'>,
  fileName: string,
): Promise<{ readonly result: PassResult; readonly cost: BundleCost }> {
  const at = (entry: string) => `${fileName}, ${entry}`
  if (!zip.has(ENTRIES.told))
    throw new UnreadableFileError(fileName, `holds no ${ENTRIES.told}: it is no pass`)
  let loose: unknown
  const text = strFromU8(await zip.read(ENTRIES.told))
  try {
    loose = JSON.parse(text)
  } catch (cause) {
    throw new UnreadableFileError(at(ENTRIES.told), 'cannot be parsed', { cause })
  }
  const parsed = toldSchema.safeParse(loose)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new UnreadableFileError(at(ENTRIES.told), `${issue.path.join('.')}: ${issue.message}`)
  }
  const { version: _version, rays, seconds, samples, ...told } = parsed.data
  const pass = passKind(told.kind)
  const has = (entry: string) => {
    if (!zip.has(entry)) throw new UnreadableFileError(fileName, `holds no ${entry}`)
    return zip.read(entry)
  }
  const size = { width: told.width, height: told.height }
  const channels =
    pass.channels(told.lights, told.params).length > 0
      ? readPassExr(await has(ENTRIES.channels), told.kind, told, at(ENTRIES.channels), size).channels
      : []
  const drawing = pass.lines ? readLinePly(await has(ENTRIES.lines), at(ENTRIES.lines)) : null
  return { result: { ...told, channels, drawing }, cost: { rays, seconds, samples } }
}
