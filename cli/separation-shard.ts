import { existsSync } from 'node:fs'
import { copyFile } from 'node:fs/promises'
import path from 'node:path'
import { z } from 'zod'
import { UnreadableFileError } from '@/core/errors'
import { exrValues, readExr, writeExr } from '@/core/formats/exr'
import { readPng } from '@/core/formats/png'
import type { ParamValues } from '@/core/params'
import { passPicture } from '@/core/passes/pass-picture'
import type { PassResult } from '@/core/passes/pass-result'
import { PASS_KINDS } from '@/core/passes/registry'
import { premultiplied } from '@/core/picture/rgba-picture'
import { frameSchema } from '@/core/scene/camera'
import { meanDifference, takeIn } from '@/core/separate/recombine'
import { togethernessOf } from '@/core/separate/separation-desk'
import {
  pivotSchema,
  pixelBoxSchema,
  SEPARATION_MANIFEST,
  separationManifest,
  type DoneSet,
  type Separated,
  type SeparationReport,
  type SetFiles,
} from '@/core/separate/separation-manifest'
import { readBytes } from './load-input'
import { checkTogether, innerFile, readJson } from './shards'
import { tellShare } from './told'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

/** What lies beside the pictures of a shard. */
const SEPARATION_SHARD = 'shard.json'
/** All sets rendered at once, which what is put together is compared with. */
const WHOLE = 'whole.exr'

const numberList = z.array(z.number().int().min(0))
const doneSetSchema = z.object({
  index: z.number().int().min(0),
  order: z.number().int().min(0),
  picture: pixelBoxSchema,
  shadow: pixelBoxSchema.nullable(),
  reflection: pixelBoxSchema.nullable(),
})
const separationShardSchema = z.object({
  kind: z.literal('separation shard'),
  version: z.literal(1),
  key: z.string(),
  frame: frameSchema,
  how: z.enum(['whole', 'seen']),
  pass: z.enum(PASS_KINDS),
  sets: z.array(
    z.object({
      name: z.string(),
      parts: z.array(z.string()),
      picture: innerFile,
      shadow: innerFile.nullable(),
      reflection: innerFile.nullable(),
    }),
  ),
  /** Keys and names of all parts. */
  parts: z.array(z.object({ key: z.string(), name: z.string() })),
  /** Known once a set is done. */
  order: z
    .object({
      order: numberList,
      cycles: z.array(numberList),
      cuts: z.array(numberList),
      depths: z.array(z.number().nullable()),
      pivots: z.array(pivotSchema.nullable()),
    })
    .nullable(),
  done: z.array(doneSetSchema),
  /** Whether all sets at once are here. */
  hasWhole: z.boolean(),
})
type SeparationShard = z.infer<typeof separationShardSchema>

const readSeparationShard = (folder: string): Promise<SeparationShard | null> =>
  readJson<SeparationShard>(path.join(folder, SEPARATION_SHARD), separationShardSchema)

/** Pictures of one shard of a separation in a folder; what was interrupted goes on from them. */
export class SeparationShardFolder {
  private constructor(
    private readonly folder: string,
    private readonly manifest: SeparationShard,
  ) {}

  /** @throws {UsageError} where the folder holds another's, or its own and neither is to be gone on from nor replaced. */
  static async open(
    folder: string,
    key: string,
    { sets, parts, frame, how, pass }: Separated,
    files: readonly SetFiles[],
    { resume, overwrite }: { readonly resume: boolean; readonly overwrite: boolean },
  ): Promise<SeparationShardFolder> {
    const before = overwrite ? null : await readSeparationShard(folder)
    if (before && before.key !== key)
      throw new UsageError(`--out ${folder} holds a shard of something else: --overwrite replaces it`)
    if (before && !resume)
      throw new UsageError(
        `--out ${folder} holds this shard: --resume goes on from it, --overwrite makes it anew`,
      )
    const own: SeparationShard = before ?? {
      kind: 'separation shard',
      version: 1,
      key,
      frame: { ...frame },
      how,
      pass: pass.kind,
      sets: sets.map(({ name, parts: keys }, i) => ({ name, parts: [...keys], ...files[i] })),
      parts: parts.map(({ key: own, name }) => ({ key: own, name })),
      order: null,
      done: [],
      hasWhole: false,
    }
    const isThere = (file: string | null) => file === null || existsSync(path.join(folder, file))
    own.done = own.done.filter(({ index }) => {
      const { picture, shadow, reflection } = own.sets[index]
      return [picture, shadow, reflection].every(isThere)
    })
    own.hasWhole &&= isThere(WHOLE)
    return new SeparationShardFolder(folder, own)
  }

  has(index: number): boolean {
    return this.manifest.done.some((own) => own.index === index)
  }

  get hasWhole(): boolean {
    return this.manifest.hasWhole
  }

  at(file: string): string {
    return path.join(this.folder, file)
  }

  /** Keeps all sets as they were rendered at once. */
  async keepWhole(result: PassResult, look: ParamValues): Promise<void> {
    const { width, height } = result
    const pixels = premultiplied(passPicture(result, look))
    const plane = (c: number) => Float32Array.from({ length: width * height }, (_, i) => pixels[4 * i + c])
    const channels = ['R', 'G', 'B', 'A'].map((name, c) => ({ name, type: 'float' as const, data: plane(c) }))
    await writeWhole(this.at(WHOLE), writeExr(width, height, channels))
    this.manifest.hasWhole = true
    await this.write()
  }

  /** Notes a set whose pictures are written. */
  async note(done: DoneSet): Promise<void> {
    this.manifest.done.push({
      index: done.index,
      order: done.order,
      picture: { ...done.picture },
      shadow: done.shadow && { ...done.shadow },
      reflection: done.reflection && { ...done.reflection },
    })
    await this.write()
  }

  /** Notes the order of all sets: every shard finds the same. */
  async finish({ set: { front, depths }, pivots }: SeparationReport): Promise<void> {
    this.manifest.order = {
      order: [...front.order],
      cycles: front.cycles.map((cycle) => [...cycle]),
      cuts: front.cuts.map((cut) => [...cut]),
      depths: depths.map((depth) => (Number.isFinite(depth) ? depth : null)),
      pivots: [...pivots],
    }
    await this.write()
  }

  write(): Promise<void> {
    return writeWhole(this.at(SEPARATION_SHARD), JSON.stringify(this.manifest) + '\n')
  }
}

/** Whether a folder holds a shard of a separation. */
export const isSeparationShard = (folder: string): Promise<boolean> =>
  readJson(path.join(folder, SEPARATION_SHARD), z.object({ kind: z.string() })).then(
    (found) => found?.kind === 'separation shard',
  )

/** Pictures of several shards brought together and checked, as one run would have written them. @throws {UnreadableFileError} naming what is missing. */
export async function joinSeparations(
  folders: readonly string[],
  out: string,
  overwrite: boolean,
): Promise<void> {
  // 1. Whether they belong together, and are all of it.
  const shards = await Promise.all(
    folders.map(async (folder) => {
      const manifest = await readSeparationShard(folder)
      if (!manifest) throw new UnreadableFileError(folder, `holds no ${SEPARATION_SHARD}`)
      return { folder, manifest, key: manifest.key }
    }),
  )
  checkTogether(shards)
  const [{ manifest: first }] = shards
  const { frame, how, pass, sets } = first
  const told = shards.find(({ manifest }) => manifest.order !== null)?.manifest.order
  const sources = new Map(
    shards.flatMap(({ folder, manifest }) => manifest.done.map((own) => [own.index, { ...own, folder }])),
  )
  const missing = sets.filter((_, index) => !sources.has(index))
  const whole = shards.find(({ manifest }) => manifest.hasWhole)
  if (missing.length > 0 || !told || !whole)
    throw new UnreadableFileError(
      folders.join(', '),
      missing.length > 0
        ? `${missing.length} of ${sets.length} sets are missing, the first of them ${missing[0].name}`
        : 'their shards are not done',
    )

  // 2. Copied, never moved: what was handed in stays. From the front to the back they are laid together.
  const files = [SEPARATION_MANIFEST, ...sets.flatMap(filesOf)].map((file) => path.join(out, file))
  for (const file of files) await refuseExisting(file, overwrite)
  await withFolders(files, async () => {
    const sum = new Float32Array(4 * frame.width * frame.height)
    const done: DoneSet[] = []
    for (const index of told.order) {
      const source = sources.get(index)
      if (!source) continue
      const { folder, ...own } = source
      for (const file of filesOf(sets[index])) {
        await copyWhole(path.join(folder, file), path.join(out, file))
      }
      const file = path.join(folder, sets[index].picture)
      const picture = readPng(await readBytes(file), file)
      if (picture.width !== own.picture.width || picture.height !== own.picture.height)
        throw new UnreadableFileError(file, 'is not as large as its manifest says')
      takeIn(sum, frame.width, premultiplied(picture), own.picture, togethernessOf(how))
      done.push(own)
      tellShare(done.length / sets.length)
    }
    const file = path.join(whole.folder, WHOLE)
    const difference = meanDifference(sum, wholeOf(await readBytes(file), file, frame))
    const depths = told.depths.map((depth) => depth ?? Infinity)
    const report = { set: { front: told, depths }, pivots: told.pivots, done, difference }
    const asked = { sets, parts: first.parts, frame, how, pass: { kind: pass } }
    const manifest = separationManifest(asked, sets, report)
    await writeWhole(path.join(out, SEPARATION_MANIFEST), JSON.stringify(manifest, null, 2) + '\n')
  })
}

const filesOf = ({ picture, shadow, reflection }: SetFiles): string[] =>
  [picture, shadow, reflection].filter((file) => file !== null)

async function copyWhole(from: string, to: string): Promise<void> {
  try {
    await copyFile(from, to)
  } catch (cause) {
    throw new UnreadableFileError(from, `cannot be copied to ${to}`, { cause })
  }
}

/** Premultiplied RGBA as {@link SeparationShardFolder.keepWhole} wrote it. */
function wholeOf(
  bytes: Uint8Array,
  file: string,
  frame: { readonly width: number; readonly height: number },
): Float32Array {
  const { channels } = readExr(bytes, file, frame)
  const out = new Float32Array(4 * frame.width * frame.height)
  for (const [c, name] of ['R', 'G', 'B', 'A'].entries()) {
    const channel = channels.find((own) => own.name === name)
    if (!channel) throw new UnreadableFileError(file, `has no channel ${name}`)
    exrValues(channel).forEach((value, i) => void (out[4 * i + c] = value))
  }
  return out
}
