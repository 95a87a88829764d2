import { availableParallelism } from 'node:os'
import path from 'node:path'
import { MATTES_BY, type MattesBy } from '@/core/formats/coverage-mattes'
import { writeLayeredExr } from '@/core/formats/layered-exr'
import type { EffortName } from '@/core/passes/effort'
import type { PassResult } from '@/core/passes/pass-result'
import { fromPattern } from '@/core/formats/name-pattern'
import { passKind } from '@/core/passes/registry'
import type { PassOrder } from '@/core/passes/render-tile'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { rigOf, rigOfPass } from '@/data/active-shot'
import type { RenderPool } from '@/engine/render-pool'
import type { RenderedPass } from '@/engine/render-request'
import { runRender, type PlannedPass, type RenderPlan, type RenderTiles } from '@/engine/run-render'
import { parseOptions, qualityNamed, wholeOption } from './arguments'
import { RENDER_ENDINGS, RENDER_FORMATS, renderFile } from './render-file'
import { lookParams, MOST_EFFORT, parseSetting, renderParams, wantedPass } from './pass-settings'
import { RENDER_SHARD, ShardTiles } from './render-shard'
import { parseShard, workKey } from './shards'
import { tellRays, tellShare } from './told'
import { UsageError } from './usage-error'
import { loadView, viewOptions } from './view'
import { checkedPattern } from './name-pattern'
import { refuseExisting, withFolders, writeWhole } from './write-file'
import { withScene } from './with-scene'

const USAGE =
  'relief render MODEL…|PROJECT --passes clay,occlusion,… --size WxH --out DIR [--quality draft|good|final|custom] [--format png|png16|exr|bundle] [--together [--mattes part,material,group] [--half]] [--shard I/N [--resume]]'

export const renderOptions = {
  ...viewOptions,
  ground: { type: 'string' },
  passes: { type: 'string' },
  out: { type: 'string' },
  quality: { type: 'string' },
  samples: { type: 'string' },
  rays: { type: 'string' },
  seed: { type: 'string' },
  threads: { type: 'string' },
  set: { type: 'string', multiple: true },
  format: { type: 'string' },
  name: { type: 'string' },
  overwrite: { type: 'boolean' },
  denoise: { type: 'boolean' },
  report: { type: 'string' },
  together: { type: 'boolean' },
  mattes: { type: 'string' },
  half: { type: 'boolean' },
  shard: { type: 'string' },
  resume: { type: 'boolean' },
} as const

/** `relief render`: passes of models or of a project's shot, as files. */
export async function render(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals: inputs } = parseOptions(argv, renderOptions)
  if (inputs.length === 0 || !values.passes || !values.out) throw new UsageError(USAGE)
  const names = values.passes.split(',').map((k) => k.trim())
  const format = RENDER_FORMATS.find((own) => own === (values.format ?? 'png'))
  if (!format) throw new UsageError(`--format takes ${RENDER_FORMATS.join(', ')} (got "${values.format}")`)
  const shard = values.shard === undefined ? null : parseShard(values.shard)
  if (shard && values.denoise) throw new UsageError('--denoise smooths whole pictures, never shards')
  if (shard && values.report !== undefined)
    throw new UsageError('--report tells of whole renders, never of shards')
  if (!shard && values.resume) throw new UsageError('--resume goes with --shard')
  const { together = false, half = false } = values
  const mattes = mattesNamed(values.mattes)
  if (!together && (half || mattes.length > 0)) throw new UsageError('--mattes and --half go with --together')
  if (together && (shard || values.format !== undefined))
    throw new UsageError('--together writes one EXR: it goes neither with --shard nor with --format')
  const quality = renderQuality(values.quality ?? 'final')
  const samples = wholeOption(values.samples, 'samples', 1, MOST_EFFORT)
  const rays = wholeOption(values.rays, 'rays', 1, MOST_EFFORT)
  const seed = wholeOption(values.seed, 'seed', 0, 2 ** 32 - 1) ?? 0
  const threads = wholeOption(values.threads, 'threads', 1, 256) ?? availableParallelism()
  const pattern = checkedPattern(values.name ?? '{shot}_{pass}')

  // 2. The scene and the shot.
  const { models, geometry, camera, frame, project, archive, shot, shotName } = await loadView(inputs, values)
  const rig = project && shot ? rigOf(project, shot) : DEFAULT_RIG
  const ofShot = project?.passes.filter((p) => p.shotId === shot?.id)
  const wanted = names.map((name) => wantedPass(name, ofShot))
  // Mattes are made from an ID pass, which need not be asked for.
  const idAt = wanted.findIndex(({ kind }) => kind === 'id')
  const isIdBeside = mattes.length > 0 && idAt < 0
  if (isIdBeside) wanted.push(wantedPass('id', ofShot))
  const settings = (values.set ?? []).map((text) => parseSetting(text, geometry.figureDiagonal))
  const orders = wanted.map((pass): PassOrder => {
    const { kind, stored } = pass
    const effort =
      quality === 'custom'
        ? (stored?.effort ?? passKind(kind).efforts.final)
        : passKind(kind).efforts[quality]
    return {
      kind,
      params: renderParams(pass, settings),
      effort: { samples: samples ?? effort.samples, rays: rays ?? effort.rays },
      members: stored?.members,
      rig: project && stored ? rigOfPass(project, stored) : undefined,
      denoise: values.denoise ?? false,
    }
  })
  const looks = orders.map(({ kind }) => lookParams(kind, settings))

  // 3. Names, refused before any ray when one is taken or two are the same.
  const projectName = project?.name ?? 'project'
  const files = wanted.map(({ word }) => {
    const words = { shot: shotName, pass: word, project: projectName, frame: '0000' }
    const ending = together ? 'exr' : RENDER_ENDINGS[format]
    return path.join(values.out ?? '.', `${fromPattern(pattern, words)}.${ending}`)
  })
  const twice = files.find((file, i) => files.indexOf(file) !== i)
  if (twice) throw new UsageError(`--name "${pattern}" gives two passes the same file (${twice})`)
  const layered = path.join(
    values.out,
    `${fromPattern(pattern, { shot: shotName, pass: 'passes', project: projectName, frame: '0000' })}.exr`,
  )
  const plan = { camera, frame, rig, seed, preview: false }
  const planned = orders.map((order, i) => ({ id: files[i], order }))
  const out = values.out
  if (shard) {
    const tiles = await ShardTiles.open(
      {
        folder: out,
        shard,
        key: workKey({
          models,
          ...plan,
          orders,
          looks,
          format,
          files: files.map((file) => path.relative(out, file)),
        }),
        frame,
        format,
        rig,
        passes: planned.map((own, i) => ({
          planned: own,
          file: path.relative(out, own.id),
          look: looks[i],
        })),
      },
      { resume: values.resume ?? false, overwrite: values.overwrite ?? false },
    )
    await withFolders([path.join(out, RENDER_SHARD)], () =>
      withScene({ models, project, archive }, threads, async (pool) => {
        // A share that has nothing to render is one that is done, too.
        await tiles.write()
        await rendered({ ...plan, passes: tiles.planned }, pool, tiles)
      }),
    )
    return
  }
  const written = together ? [layered] : files
  for (const file of written) await refuseExisting(file, values.overwrite ?? false)

  // 4. Render and write.
  await withFolders([...written, ...(values.report ? [values.report] : [])], () =>
    withScene({ models, project, archive }, threads, async (pool, build) => {
      const passes: { kind: string; rays: number; seconds: number; samples: number }[] = []
      const kept = new Map<string, PassResult>()
      await rendered(
        { ...plan, passes: planned },
        pool,
        {
          keep: async ({ id: file }, { result, ...cost }) => {
            if (together) kept.set(file, result)
            else await writeWhole(file, renderFile(result, looks[files.indexOf(file)], format, cost))
            return file
          },
        },
        ({ order: { kind, effort } }, { rays, seconds }) =>
          passes.push({ kind, rays, seconds, samples: effort.samples }),
      )
      if (together) {
        const layers = files.flatMap((file, i) => {
          const result = kept.get(file)
          return result ? [{ name: wanted[i].word, result, look: looks[i] }] : []
        })
        const idPass = layers.at(isIdBeside ? -1 : idAt)?.result ?? null
        await writeWhole(
          layered,
          writeLayeredExr({
            layers: isIdBeside ? layers.slice(0, -1) : layers,
            mattes,
            idPass: mattes.length > 0 ? idPass : null,
            precision: half ? 'half' : 'kept',
          }),
        )
      }
      if (values.report) {
        const report = { threads: pool.size, build, passes }
        await writeWhole(values.report, JSON.stringify(report, null, 2) + '\n')
      }
    }),
  )
}

/** Renders passes, and tells how far it is. */
const rendered = (
  plan: RenderPlan,
  pool: RenderPool,
  tiles: RenderTiles,
  onPass: (pass: PlannedPass, rendered: RenderedPass) => void = () => undefined,
): Promise<void> =>
  runRender(
    {
      plan: () => Promise.resolve(plan),
      workers: () => Promise.resolve(pool),
      note: (pass, _name, made) => {
        tellRays(made.rays)
        onPass(pass, made)
        return Promise.resolve()
      },
    },
    tiles,
    { onProgress: ({ done, total }) => tellShare(done / Math.max(1, total)) },
    new AbortController().signal,
  )

/** How carefully: `custom` as the project's passes say each for itself. @throws {UsageError} */
const renderQuality = (name: string): EffortName | 'custom' =>
  name === 'custom' ? name : qualityNamed(name, ['custom'])

function mattesNamed(text: string | undefined): MattesBy[] {
  if (text === undefined) return []
  return text.split(',').map((name) => {
    const found = MATTES_BY.find((by) => by === name.trim())
    if (!found) throw new UsageError(`--mattes takes ${MATTES_BY.join(', ')} (got "${text}")`)
    return found
  })
}
