import { existsSync } from 'node:fs'
import path from 'node:path'
import { z } from 'zod'
import { UnreadableFileError } from '@/core/errors'
import { readLinePly, writeLinePly } from '@/core/formats/line-ply'
import { readPassExr, writePassExr } from '@/core/formats/pass-exr'
import { paramValuesSchema, type ParamValues } from '@/core/params'
import { passFactsSchema, type PassFacts } from '@/core/passes/pass-facts'
import { surfaceSchema, storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import type { Tile } from '@/core/passes/tile'
import { allocateChannel } from '@/core/picture/channel'
import type { Frame } from '@/core/scene/camera'
import { renderedLightSchema, renderedLights } from '@/core/scene/rendered-light'
import { cutOut } from '@/core/separate/recombine'
import { pasteTile } from '@/engine/paste-tiles'
import type { KeptPass, PassTally, RenderedPass } from '@/engine/render-request'
import type { PlannedPass, RenderPlan, RenderTiles } from '@/engine/run-render'
import { blockCount, blockRect } from '@/engine/tile-queue'
import { readBytes } from './load-input'
import { RENDER_FORMATS, renderFile, type RenderFormat } from './render-file'
import { checkTogether, innerFile, isOfShard, readJson, type Shard } from './shards'
import { tellShare } from './told'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

/** What lies beside the blocks of a shard: of what render they are, and which are there. */
export const RENDER_SHARD = 'shard.json'

const NO_COST: PassTally = { rays: 0, seconds: 0, samples: 0 }
const costSchema = z.object({ rays: z.number(), seconds: z.number(), samples: z.number() })

const shardPassSchema = z.object({
  /** What the whole pass is called, below the folder it goes to. */
  file: innerFile,
  kind: z.enum(PASS_KINDS),
  params: paramValuesSchema,
  look: paramValuesSchema,
  lights: z.array(renderedLightSchema).default([]),
  /** Blocks that are there, and what their tiles told. */
  blocks: z.array(z.object({ block: z.number().int().min(0), told: passFactsSchema })),
  /** What they took, all runs together. */
  cost: costSchema.default(NO_COST),
  /** Of lines, once they are found. */
  facts: passFactsSchema.nullable(),
})

const renderShardSchema = z.object({
  kind: z.literal('render shard'),
  version: z.literal(1),
  /** Made of all that the pictures are made from: equal keys, equal pictures. */
  key: z.string(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  format: z.enum(RENDER_FORMATS),
  surfaces: z.array(surfaceSchema),
  passes: z.array(shardPassSchema),
})
type RenderShard = z.infer<typeof renderShardSchema>

export const readRenderShard = (folder: string): Promise<RenderShard | null> =>
  readJson<RenderShard>(path.join(folder, RENDER_SHARD), renderShardSchema)

/** Least time between two writings of what is there. Milliseconds. */
const EVERY_MS = 500

/** A pass of a render that is shared out. */
export interface SharedPass {
  readonly planned: PlannedPass
  readonly file: string
  readonly look: ParamValues
}

interface ShardSetting {
  readonly folder: string
  readonly shard: Shard
  readonly key: string
  readonly frame: Frame
  readonly format: RenderFormat
  readonly rig: RenderPlan['rig']
  readonly passes: readonly SharedPass[]
}

const blockFile = (pass: number, block: number): string => `${pass}_${String(block).padStart(5, '0')}.exr`
const lineFile = (pass: number): string => `${pass}.ply`

/** Blocks and lines of one shard in a folder, kept as they are done: what was interrupted goes on from them. */
export class ShardTiles implements RenderTiles {
  private readonly manifest: RenderShard
  /** As this run found it. */
  private readonly before: RenderShard
  /** Blocks of each pass that are there. */
  private readonly there: readonly Set<number>[]
  private written = 0
  /** Blocks are written one after the other. */
  private writing: Promise<void> = Promise.resolve()

  private constructor(
    private readonly setting: ShardSetting,
    before: RenderShard | null,
  ) {
    const { key, frame, format, passes, rig } = setting
    this.manifest = before ?? {
      kind: 'render shard',
      version: 1,
      key,
      width: frame.width,
      height: frame.height,
      format,
      surfaces: [],
      passes: passes.map(({ planned: { order }, file, look }) => ({
        file,
        kind: order.kind,
        params: order.params,
        look,
        lights: passKind(order.kind).usesLights(order.params)
          ? renderedLights(memberRig(order.rig ?? rig, order.members))
          : [],
        blocks: [],
        cost: NO_COST,
        facts: null,
      })),
    }
    this.before = structuredClone(this.manifest)
    this.there = this.manifest.passes.map((own, pass) => {
      own.blocks = own.blocks.filter(({ block }) =>
        existsSync(path.join(setting.folder, blockFile(pass, block))),
      )
      return new Set(own.blocks.map(({ block }) => block))
    })
  }

  /**
   * Opens the folder of a shard.
   * @throws {UsageError} where it holds another's, or its own and neither is to be gone on from nor replaced.
   */
  static async open(
    setting: ShardSetting,
    { resume, overwrite }: { readonly resume: boolean; readonly overwrite: boolean },
  ): Promise<ShardTiles> {
    const { folder, key } = setting
    const before = overwrite ? null : await readRenderShard(folder)
    if (before && before.key !== key)
      throw new UsageError(`--out ${folder} holds a shard of something else: --overwrite replaces it`)
    if (before && !resume)
      throw new UsageError(
        `--out ${folder} holds this shard: --resume goes on from it, --overwrite makes it anew`,
      )
    return new ShardTiles(setting, before)
  }

  /** Passes that this shard has something of to render. */
  get planned(): PlannedPass[] {
    const { passes, shard } = this.setting
    return passes.flatMap(({ planned }, pass) => {
      const { lines } = passKind(planned.order.kind)
      if (lines && (!isOfShard(shard, pass) || this.hasLines(pass))) return []
      return [planned]
    })
  }

  /** Says that nothing, or nothing more, is to be done. */
  async write(): Promise<void> {
    await writeWhole(path.join(this.setting.folder, RENDER_SHARD), JSON.stringify(this.manifest) + '\n')
    this.written = performance.now()
  }

  readonly found = (passes: readonly PlannedPass[]): Promise<(KeptPass | null)[]> => {
    const { frame, shard, rig } = this.setting
    const count = blockCount(frame)
    return Promise.resolve(
      passes.map(({ id, order }) => {
        const kind = passKind(order.kind)
        const lights = renderedLights(memberRig(order.rig ?? rig, order.members))
        const specs = kind.channels(lights, order.params)
        if (specs.length === 0) return null
        const pass = this.numberOf(id)
        const there = this.there[pass]
        const blocks = Array.from({ length: count }, (_, block) => block)
        return {
          result: {
            kind: order.kind,
            ...frame,
            channels: specs.map(({ format }) => allocateChannel(format, frame.width * frame.height)),
            surfaces: [],
            lights,
            params: order.params,
            facts: {},
          },
          // What others render counts as there.
          blocks: new Set(blocks.filter((block) => !isOfShard(shard, block) || there.has(block))),
          told: {},
          tally: { rays: 0, seconds: 0, samples: 0 },
        }
      }),
    )
  }

  readonly keepBlock = (
    passes: readonly PlannedPass[],
    block: number,
    rect: Tile,
    results: readonly PassResult[],
    told: readonly PassFacts[],
    tallies: readonly PassTally[],
  ): void => {
    passes.forEach(({ id }, i) => this.count(this.numberOf(id), tallies[i]))
    if (!isOfShard(this.setting.shard, block)) return
    const cut = results.map((result) => ({
      ...result,
      width: rect.width,
      height: rect.height,
      channels: result.channels.map((data) => cutOut(data, result.width, rect, 1)),
    }))
    this.writing = this.writing.then(async () => {
      for (const [i, result] of cut.entries()) {
        const pass = this.numberOf(passes[i].id)
        if (result.channels.length === 0 || this.there[pass].has(block)) continue
        await writeWhole(path.join(this.setting.folder, blockFile(pass, block)), writePassExr(result))
        this.manifest.surfaces = storedSurfaces(result.surfaces)
        this.manifest.passes[pass].blocks.push({ block, told: told[i] ?? {} })
        this.there[pass].add(block)
      }
      // Not after every block: the list of many is long.
      if (performance.now() - this.written > EVERY_MS) await this.write()
    })
    // It is told where it is waited for.
    this.writing.catch(() => undefined)
  }

  readonly settled = (): Promise<void> => this.writing.then(() => this.write())

  readonly keep = async ({ id }: PlannedPass, { result, ...cost }: RenderedPass): Promise<string> => {
    const pass = this.numberOf(id)
    this.count(pass, cost)
    if (result.drawing) {
      await writeWhole(path.join(this.setting.folder, lineFile(pass)), writeLinePly(result.drawing))
      this.manifest.surfaces = storedSurfaces(result.surfaces)
      this.manifest.passes[pass].facts = result.facts
      await this.write()
    }
    return id
  }

  readonly done = (): Promise<void> => {
    tellShare(1)
    return Promise.resolve()
  }

  /** Adds what this run took so far to what others before it took. */
  private count(pass: number, now: PassTally): void {
    this.manifest.passes[pass].cost = summed(this.before.passes[pass].cost, now)
  }

  private numberOf(id: string): number {
    return this.setting.passes.findIndex(({ planned }) => planned.id === id)
  }

  private hasLines(pass: number): boolean {
    return (
      this.manifest.passes[pass].facts !== null && existsSync(path.join(this.setting.folder, lineFile(pass)))
    )
  }
}

/** Passes of several shards put together, as one run would have written them. @throws {UnreadableFileError} naming what is missing. */
export async function joinRenders(
  folders: readonly string[],
  out: string,
  overwrite: boolean,
): Promise<void> {
  // 1. Whether they belong together.
  const shards = await Promise.all(
    folders.map(async (folder) => {
      const manifest = await readRenderShard(folder)
      if (!manifest) throw new UnreadableFileError(folder, `holds no ${RENDER_SHARD}`)
      return { folder, manifest, key: manifest.key }
    }),
  )
  checkTogether(shards)
  const [{ manifest: first }] = shards
  const files = first.passes.map(({ file }) => path.join(out, file))
  for (const file of files) await refuseExisting(file, overwrite)
  const surfaces = shards.find(({ manifest }) => manifest.surfaces.length > 0)?.manifest.surfaces ?? []

  // 2. Pass by pass, from the blocks of all.
  await withFolders(files, async () => {
    for (const [pass, { kind, params, look, lights }] of first.passes.entries()) {
      const { width, height, format } = first
      const base = { kind, width, height, surfaces, lights, params }
      const own = shards.map(({ folder, manifest }) => ({ folder, ...manifest.passes[pass] }))
      const result = passKind(base.kind).lines
        ? { ...base, channels: [], ...(await joinedLines(own, pass, folders)) }
        : { ...base, ...(await joinedBlocks(own, pass, base)) }
      const cost = own.reduce((sum, { cost: of }) => summed(sum, of), NO_COST)
      await writeWhole(files[pass], renderFile(result, look, format, cost))
      tellShare((pass + 1) / first.passes.length)
    }
  })
}

const summed = (a: PassTally, b: PassTally): PassTally => ({
  rays: a.rays + b.rays,
  seconds: a.seconds + b.seconds,
  samples: a.samples + b.samples,
})

type ShardPass = RenderShard['passes'][number] & { readonly folder: string }

async function joinedLines(own: readonly ShardPass[], pass: number, folders: readonly string[]) {
  const found = own.find(({ facts }) => facts !== null)
  if (!found?.facts)
    throw new UnreadableFileError(folders.join(', '), `the lines of ${own[0].file} are missing`)
  const file = path.join(found.folder, lineFile(pass))
  return { drawing: readLinePly(await readBytes(file), file), facts: found.facts }
}

async function joinedBlocks(
  own: readonly ShardPass[],
  pass: number,
  base: Omit<PassResult, 'channels' | 'facts'>,
): Promise<Pick<PassResult, 'channels' | 'facts'>> {
  const { width, height, kind, lights, params, surfaces } = base
  const sources = new Map(
    own.flatMap(({ folder, blocks }) => blocks.map((one) => [one.block, { folder, ...one }])),
  )
  const count = blockCount({ width, height })
  const missing = Array.from({ length: count }, (_, block) => block).filter((block) => !sources.has(block))
  if (missing.length > 0)
    throw new UnreadableFileError(
      own.map(({ folder }) => folder).join(', '),
      `${missing.length} of ${count} blocks of ${own[0].file} are missing: their shards are not done`,
    )
  const { channels: specsOf, facts: rules } = passKind(kind)
  const channels = specsOf(lights, params).map(({ format }) => allocateChannel(format, width * height))
  let told: PassFacts = {}
  for (const [block, { folder, told: more }] of [...sources].sort(([a], [b]) => a - b)) {
    const rect = blockRect({ width, height }, block)
    const file = path.join(folder, blockFile(pass, block))
    const made = { surfaces, lights, params, facts: {} }
    const piece = readPassExr(await readBytes(file), kind, made, file, rect)
    piece.channels.forEach((data, c) => pasteTile(channels[c], width, rect, data))
    if (rules) told = rules.merge(told, more)
  }
  return { channels, facts: rules?.finish(told, surfaces) ?? {} }
}
