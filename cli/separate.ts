import { availableParallelism } from 'node:os'
import path from 'node:path'
import { fromPattern } from '@/core/formats/name-pattern'
import { passKind } from '@/core/passes/registry'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import type { ScenePart } from '@/core/scene/scene-geometry'
import {
  BACKDROP_MANIFEST,
  BACKDROP_PICTURES,
  backdropFile,
  backdropFiles,
  backdropOrders,
  backdropPictures,
} from '@/core/separate/backdrop'
import { renderBackdrop } from '@/engine/render-backdrop'
import { ATLAS_MANIFEST, type AtlasSetting } from '@/core/separate/atlas'
import { pageFile } from '@/core/separate/atlas-pictures'
import { numbersNamed } from '@/core/separate/part-sets'
import { SeparationDesk } from '@/core/separate/separation-desk'
import { SEPARATION_MANIFEST, separationManifest, setFiles } from '@/core/separate/separation-manifest'
import {
  partsWithShape,
  SETS_BY,
  setsBy,
  setsFitting,
  type PartSet,
  type SetsBy,
} from '@/core/separate/separations'
import { splitByMaterials } from '@/core/separate/split-materials'
import { rigOf, rigOfPass } from '@/data/active-shot'
import {
  doneOf,
  picturesOf,
  renderSeparations,
  type SeparatedSet,
  type SeparationShare,
} from '@/engine/render-separations'
import { parseOptions, qualityNamed, wholeNumber, wholeOption } from './arguments'
import { AtlasFolder } from './atlas-folder'
import { asUsage, lookParams, MOST_EFFORT, parseSetting, renderParams, wantedPass } from './pass-settings'
import { SeparationShardFolder } from './separation-shard'
import { isOfShard, parseShard, workKey } from './shards'
import { tellRays, tellShare } from './told'
import { UsageError } from './usage-error'
import { geometryOf, loadView, viewOptions } from './view'
import { checkedPattern } from './name-pattern'
import { withScene } from './with-scene'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE =
  'relief separate MODEL…|PROJECT --sets all|1,3-5 | --parts PATTERN --out DIR [--each part|group|material] [--whole|--seen] [--shadows] [--reflections] [--trim] [--pass KIND] [--size WxH] [--atlas SIDE [--padding N] [--bleed N]] [--scales 1,2,3] [--backdrop] [--shard I/N [--resume]]'

export const separateOptions = {
  ...viewOptions,
  ground: { type: 'string' },
  sets: { type: 'string' },
  parts: { type: 'string' },
  each: { type: 'string' },
  whole: { type: 'boolean' },
  seen: { type: 'boolean' },
  shadows: { type: 'boolean' },
  reflections: { type: 'boolean' },
  trim: { type: 'boolean' },
  pass: { type: 'string' },
  quality: { type: 'string' },
  samples: { type: 'string' },
  rays: { type: 'string' },
  seed: { type: 'string' },
  threads: { type: 'string' },
  set: { type: 'string', multiple: true },
  format: { type: 'string' },
  name: { type: 'string' },
  out: { type: 'string' },
  overwrite: { type: 'boolean' },
  atlas: { type: 'string' },
  padding: { type: 'string' },
  bleed: { type: 'string' },
  scales: { type: 'string' },
  backdrop: { type: 'boolean' },
  shard: { type: 'string' },
  resume: { type: 'boolean' },
} as const

/** `relief separate`: parts as pictures of their own, with their shadows, and a manifest that tells how they come together. */
export async function separate(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals: inputs } = parseOptions(argv, separateOptions)
  const { out } = values
  if (inputs.length === 0 || !out) throw new UsageError(USAGE)
  if (values.whole && values.seen) throw new UsageError('--whole and --seen cannot be asked for together')
  if (values.sets !== undefined && values.parts !== undefined)
    throw new UsageError('--sets and --parts cannot be asked for together')
  const how = values.seen ? 'seen' : 'whole'
  const format = values.format ?? 'png'
  if (!['png', 'png16'].includes(format))
    throw new UsageError(`--format takes png or png16 (got "${format}")`)
  const threads = wholeOption(values.threads, 'threads', 1, 256) ?? availableParallelism()
  const seed = wholeOption(values.seed, 'seed', 0, 2 ** 32 - 1) ?? 0
  const quality = qualityNamed(values.quality ?? 'good')
  const pattern = checkedPattern(values.name ?? '{set}')
  const shard = values.shard === undefined ? null : parseShard(values.shard)
  if (!shard && values.resume) throw new UsageError('--resume goes with --shard')
  const atlas = atlasAsked(values)
  const scales = scalesNamed(values.scales ?? '1')
  if (shard && (atlas || scales.length > 1))
    throw new UsageError('--shard goes neither with --atlas nor with several --scales')

  // 2. The scene, the sets and the pass.
  const loaded = await loadView(inputs, values)
  const { camera, frame, project, archive, shot, shotName } = loaded
  const by = eachNamed(values.each)
  const models = by === 'material' ? splitByMaterials(loaded.models) : loaded.models
  const geometry = by === 'material' ? geometryOf(models, inputs[0]) : loaded.geometry
  const sets = setsAsked(by, partsWithShape(geometry.parts, geometry.tree.partBoxes), values)
  const asked = wantedPass(
    values.pass ?? 'lit',
    project?.passes.filter((pass) => pass.shotId === shot?.id),
  )
  const settings = (values.set ?? []).map((text) => parseSetting(text, geometry.figureDiagonal))
  const own = passKind(asked.kind).efforts[quality]
  const effort = {
    samples: wholeOption(values.samples, 'samples', 1, MOST_EFFORT) ?? own.samples,
    rays: wholeOption(values.rays, 'rays', 1, MOST_EFFORT) ?? own.rays,
  }
  const rig = project && shot ? rigOf(project, shot) : DEFAULT_RIG

  // 3. Names, refused before any ray where one is taken.
  const projectName = project?.name ?? 'project'
  const names = sets.map((set, i) => {
    const words = {
      set: set.name,
      number: String(i + 1),
      pass: asked.word,
      shot: shotName,
      project: projectName,
    }
    return fromPattern(pattern, words)
  })
  const along = { shadows: values.shadows ?? false, reflections: values.reflections ?? false }
  const files = setFiles(names, along)
  if (along.reflections && !geometry.parts.some(({ role }) => role === 'ground'))
    throw new UsageError('--reflections are of the ground, and no part is the ground')
  const settingsOf = (kind: string) =>
    Object.fromEntries(
      settings.filter((own) => own.kind === kind && own.render).map((own) => [own.param, own.value]),
    )
  const request = {
    camera,
    frame,
    rig,
    seed,
    sets,
    parts: geometry.parts,
    how,
    pass: {
      kind: asked.kind,
      params: renderParams(asked, settings),
      effort,
      rig: project && asked.stored ? rigOfPass(project, asked.stored) : undefined,
    },
    look: lookParams(asked.kind, settings),
    shadow: along.shadows ? { quality, look: lookParams('shadow', settings) } : null,
    reflection: along.reflections
      ? {
          quality,
          params: { ...(asked.kind === 'clay' && { shows: 'clay' }), ...settingsOf('reflection') },
          look: lookParams('reflection', settings),
        }
      : null,
  } as const
  const trim = (values.trim ?? false) || atlas !== null
  const bits = format === 'png16' ? 16 : 8
  const overwrite = values.overwrite ?? false
  /** Renders them at a scale, and gives each away as it is done. */
  const separated = (
    scale: number,
    take: (done: SeparatedSet) => Promise<void>,
    share?: SeparationShare,
    tell: (share: number) => void = tellShare,
  ) => {
    const scaled = { width: scale * frame.width, height: scale * frame.height }
    return withScene({ models, project, archive }, threads, (pool) =>
      renderSeparations(
        { ...request, frame: scaled, share },
        {
          workers: () => Promise.resolve(pool),
          desk: new SeparationDesk({ frame: scaled, count: sets.length, how, trim, bits }),
        },
        take,
        new AbortController().signal,
        tell,
        tellRays,
      ),
    )
  }
  if (values.backdrop) {
    if (
      shard ||
      atlas ||
      scales.length > 1 ||
      along.shadows ||
      along.reflections ||
      values.trim ||
      values.seen
    )
      throw new UsageError('--backdrop writes the ground and what stands on it: it goes with none of these')
    if (asked.kind !== 'lit') throw new UsageError(`--backdrop takes a lit pass apart (got "${asked.kind}")`)
    const orders = backdropOrders(request.pass, geometry.parts)
    if (!orders) throw new UsageError('--backdrop wants a part that is the ground, and one that is not')
    const at = (file: string) => path.join(out, file)
    const all = [BACKDROP_MANIFEST, ...BACKDROP_PICTURES.map(backdropFile)].map(at)
    for (const file of all) await refuseExisting(file, overwrite)
    await withFolders(all, async () => {
      const renders = await withScene({ models, project, archive }, threads, (pool) =>
        renderBackdrop(
          { camera, frame, rig, seed },
          orders,
          () => Promise.resolve(pool),
          new AbortController().signal,
          tellShare,
        ),
      )
      const { files: made, manifest } = backdropFiles(backdropPictures(renders, request.look), frame)
      for (const [file, bytes] of made) await writeWhole(at(file), bytes)
      await writeWhole(at(BACKDROP_MANIFEST), JSON.stringify(manifest, null, 2) + '\n')
    })
    return
  }
  const write = async (folder: string, own: SeparatedSet) => {
    for (const { name, file } of picturesOf(own, files[own.index]))
      await writeWhole(path.join(folder, name), file)
  }

  // 4. A share of them, to be joined …
  if (shard) {
    const key = workKey({ models, ...request, parts: null, files, trim, bits })
    const resume = values.resume ?? false
    const folder = await SeparationShardFolder.open(out, key, request, files, { resume, overwrite })
    await withFolders([folder.at(SEPARATION_MANIFEST)], async () => {
      const share: SeparationShare = {
        isOwn: (index, order) => isOfShard(shard, order) && !folder.has(index),
        whole:
          shard.index === 0 && !folder.hasWhole ? (result) => folder.keepWhole(result, request.look) : null,
      }
      const take = async (own: SeparatedSet) => {
        await write(out, own)
        await folder.note(doneOf(own))
      }
      await folder.finish(await separated(1, take, share))
    })
    return
  }

  // 5. … or all, at every scale; the manifest last, when all it tells of is there.
  const pictures = files
    .flatMap((own) => Object.values(own) as (string | null)[])
    .filter((file) => file !== null)
  const named = atlas ? [ATLAS_MANIFEST, pageFile(1)] : pictures
  const folders = scales.map((scale) => (scales.length === 1 ? out : path.join(out, `${scale}x`)))
  const all = folders.flatMap((folder) =>
    [SEPARATION_MANIFEST, ...named].map((file) => path.join(folder, file)),
  )
  for (const file of all) await refuseExisting(file, overwrite)
  await withFolders(all, async () => {
    for (const [i, scale] of scales.entries()) {
      const folder = folders[i]
      const own = { ...request, frame: { width: scale * frame.width, height: scale * frame.height } }
      const packer = atlas && new AtlasFolder(folder, atlas, overwrite)
      const report = await separated(
        scale,
        async (done) => {
          if (packer) packer.take(sets[done.index].name, done)
          else await write(folder, done)
        },
        undefined,
        (share) => tellShare((i + share) / scales.length),
      )
      const told = separationManifest(own, files, report)
      const kept = packer ? await packer.finish(told, scale) : told
      await writeWhole(path.join(folder, SEPARATION_MANIFEST), JSON.stringify(kept, null, 2) + '\n')
    }
  })
}

/** Larger ones are asked for by `--size`. */
const MOST_SCALE = 4

function scalesNamed(text: string): number[] {
  const scales = text.split(',').map((own) => wholeNumber(own, 'scales', 1, MOST_SCALE))
  if (new Set(scales).size < scales.length) throw new UsageError(`--scales names one twice (got "${text}")`)
  return scales
}

/** How pictures are to be packed; null: they are not. */
function atlasAsked(values: {
  readonly atlas?: string
  readonly padding?: string
  readonly bleed?: string
  readonly format?: string
}): AtlasSetting | null {
  if (values.atlas === undefined) {
    if (values.padding !== undefined || values.bleed !== undefined)
      throw new UsageError('--padding and --bleed go with --atlas')
    return null
  }
  if (values.format === 'png16') throw new UsageError('--atlas packs pictures of 8 bits')
  return {
    side: wholeNumber(values.atlas, 'atlas', 64, 8192),
    padding: wholeOption(values.padding, 'padding', 0, 64) ?? 2,
    bleed: wholeOption(values.bleed, 'bleed', 0, 32) ?? 1,
  }
}

function eachNamed(each = 'part'): SetsBy {
  const by = SETS_BY.find((own) => own === each)
  if (!by) throw new UsageError(`--each takes ${SETS_BY.join(', ')} (got "${each}")`)
  return by
}

/** The sets that options ask for. @throws {UsageError} where there is none of them. */
function setsAsked(
  by: SetsBy,
  parts: readonly ScenePart[],
  { sets, parts: pattern }: { readonly sets?: string; readonly parts?: string },
): PartSet[] {
  const all = setsBy(by, parts)
  if (pattern === undefined) return asUsage(() => numbersNamed(sets ?? 'all', all.length)).map((k) => all[k])
  const found = setsFitting(by, all, parts, pattern)
  if (found.length > 0) return found
  throw new UsageError(
    `--parts "${pattern}" fits no ${by}; there are ${all.map(({ name }) => name).join(', ')}`,
  )
}
