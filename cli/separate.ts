import { availableParallelism } from 'node:os'
import path from 'node:path'
import { passKind } from '@/core/passes/registry'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import type { ScenePart } from '@/core/scene/scene-geometry'
import { numbersNamed } from '@/core/separate/part-sets'
import { SeparationDesk } from '@/core/separate/separation-desk'
import {
  SEPARATION_MANIFEST,
  separationManifest,
  setFiles,
  type DoneSet,
} from '@/core/separate/separation-manifest'
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
import { picturesOf, renderSeparations, type SeparationShare } from '@/engine/render-separations'
import { parseOptions, qualityNamed, wholeOption } from './arguments'
import { asUsage, lookParams, MOST_EFFORT, parseSetting, renderParams, wantedPass } from './pass-settings'
import { SeparationShardFolder } from './separation-shard'
import { isOfShard, parseShard, workKey } from './shards'
import { tellRays, tellShare } from './told'
import { UsageError } from './usage-error'
import { geometryOf, loadView, viewOptions } from './view'
import { checkedPattern, fromPattern } from './name-pattern'
import { withScene } from './with-scene'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE =
  'relief separate MODEL…|PROJECT --sets all|1,3-5 | --parts PATTERN --out DIR [--each part|group|material] [--whole|--seen] [--shadows] [--reflections] [--trim] [--pass KIND] [--size WxH] [--shard I/N [--resume]]'

export const separateOptions = {
  ...viewOptions,
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

  // 2. The scene, the sets and the pass.
  const loaded = await loadView(inputs, values)
  const { camera, frame, project, shot, shotName } = loaded
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
  const trim = values.trim ?? false
  const bits = format === 'png16' ? 16 : 8
  const at = (file: string) => path.join(out, file)
  /** Renders them and writes their pictures. */
  const separated = (share: SeparationShare | undefined, note: (done: DoneSet) => Promise<void>) =>
    withScene(models, threads, (pool) =>
      renderSeparations(
        { ...request, share },
        {
          workers: () => Promise.resolve(pool),
          desk: new SeparationDesk({ frame, count: sets.length, how, trim, bits }),
        },
        async (own) => {
          for (const { name, file } of picturesOf(own, files[own.index])) await writeWhole(at(name), file)
          await note(own)
        },
        new AbortController().signal,
        tellShare,
        tellRays,
      ),
    )
  const overwrite = values.overwrite ?? false

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
      await folder.finish(await separated(share, (done) => folder.note(done)))
    })
    return
  }

  // 5. … or all; the manifest last, when all it tells of is there.
  const all = [SEPARATION_MANIFEST, ...files.flatMap((own) => Object.values(own) as (string | null)[])]
    .filter((file) => file !== null)
    .map(at)
  for (const file of all) await refuseExisting(file, overwrite)
  await withFolders(all, async () => {
    const told = separationManifest(request, files, await separated(undefined, () => Promise.resolve()))
    await writeWhole(at(SEPARATION_MANIFEST), JSON.stringify(told, null, 2) + '\n')
  })
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
