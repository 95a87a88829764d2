import { availableParallelism } from 'node:os'
import path from 'node:path'
import { writeExr } from '@/core/formats/exr'
import { writePassExr } from '@/core/formats/pass-exr'
import { writePng } from '@/core/formats/png'
import type { ParamValues } from '@/core/params'
import type { PassOrder } from '@/core/passes/render-tile'
import type { PassResult } from '@/core/passes/pass-result'
import { inkStrokes } from '@/core/lines/ink-strokes'
import { passPicture, passStrokes } from '@/core/passes/pass-picture'
import { passKind } from '@/core/passes/registry'
import { premultiplied, toStraight16, toStraight8 } from '@/core/picture/rgba-picture'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { rigOf, rigOfPass } from '@/data/active-shot'
import { RenderPool } from '@/engine/render-pool'
import { runRender } from '@/engine/run-render'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { parseOptions, wholeOption } from './arguments'
import { lookParams, MOST_EFFORT, parseSetting, renderParams, wantedPass } from './pass-settings'
import { UsageError } from './usage-error'
import { loadView, viewOptions } from './view'
import { checkedPattern, fromPattern } from './name-pattern'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE = 'relief render MODEL…|PROJECT --passes clay,occlusion,… --size WxH --out DIR'

const options = {
  ...viewOptions,
  passes: { type: 'string' },
  out: { type: 'string' },
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
} as const

/** `relief render`: passes of models or of a project's shot, as files. */
export async function render(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals: inputs } = parseOptions(argv, options)
  if (inputs.length === 0 || !values.passes || !values.out) throw new UsageError(USAGE)
  const names = values.passes.split(',').map((k) => k.trim())
  const format = values.format ?? 'png'
  if (!['png', 'png16', 'exr'].includes(format))
    throw new UsageError(`--format takes png, png16 or exr (got "${format}")`)
  const samples = wholeOption(values.samples, 'samples', 1, MOST_EFFORT)
  const rays = wholeOption(values.rays, 'rays', 1, MOST_EFFORT)
  const seed = wholeOption(values.seed, 'seed', 0, 2 ** 32 - 1) ?? 0
  const threads = wholeOption(values.threads, 'threads', 1, 256) ?? availableParallelism()
  const pattern = checkedPattern(values.name ?? '{shot}_{pass}')

  // 2. The scene and the shot.
  const { models, geometry, camera, frame, project, shot, shotName } = await loadView(inputs, values)
  const rig = project && shot ? rigOf(project, shot) : DEFAULT_RIG
  const wanted = names.map((name) =>
    wantedPass(
      name,
      project?.passes.filter((p) => p.shotId === shot?.id),
    ),
  )
  const settings = (values.set ?? []).map((text) => parseSetting(text, geometry.figureDiagonal))
  const orders = wanted.map((pass): PassOrder => {
    const { kind, stored } = pass
    const effort = passKind(kind).efforts.final
    return {
      kind,
      params: renderParams(pass, settings),
      effort: { samples: samples ?? effort.samples, rays: rays ?? effort.rays },
      rig: project && stored ? rigOfPass(project, stored) : undefined,
      denoise: values.denoise ?? false,
    }
  })
  const looks = orders.map(({ kind }) => lookParams(kind, settings))

  // 3. Names, refused before any ray when one is taken or two are the same.
  const projectName = project?.name ?? 'project'
  const files = wanted.map(({ word }) => {
    const words = { shot: shotName, pass: word, project: projectName, frame: '0000' }
    const ending = format === 'exr' ? 'exr' : 'png'
    return path.join(values.out ?? '.', `${fromPattern(pattern, words)}.${ending}`)
  })
  const twice = files.find((file, i) => files.indexOf(file) !== i)
  if (twice) throw new UsageError(`--name "${pattern}" gives two passes the same file (${twice})`)
  for (const file of files) await refuseExisting(file, values.overwrite ?? false)
  // 4. Render and write.
  await withFolders([...files, ...(values.report ? [values.report] : [])], async () => {
    const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
    try {
      const build = await pool.setScene(models)
      const passes: { kind: string; rays: number; seconds: number; samples: number }[] = []
      const planned = orders.map((order, i) => ({ id: files[i], order }))
      await runRender(
        {
          plan: () => Promise.resolve({ camera, frame, rig, seed, preview: false, passes: planned }),
          workers: () => Promise.resolve(pool),
          note: ({ order: { kind, effort } }, _file, { rays, seconds }) => {
            passes.push({ kind, rays, seconds, samples: effort.samples })
            return Promise.resolve()
          },
        },
        {
          keep: async ({ id: file }, { result }) => {
            await writeWhole(file, encode(result, looks[files.indexOf(file)], format))
            return file
          },
        },
        {},
        new AbortController().signal,
      )
      if (values.report) {
        const report = { threads: pool.size, build, passes }
        await writeWhole(values.report, JSON.stringify(report, null, 2) + '\n')
      }
    } finally {
      pool.close()
    }
  })
}

function encode(result: PassResult, look: ParamValues, format: string): Uint8Array {
  const { width, height } = result
  if (format === 'exr') {
    // Lines are coverage; it goes out under the name coverage has everywhere.
    const strokes = passStrokes(result, look)
    if (!strokes) return writePassExr(result)
    const inked = inkStrokes(strokes, { x: 0, y: 0, width, height }, height, width)
    const values = Float32Array.from({ length: width * height }, (_, i) => inked[4 * i + 3])
    return writeExr(width, height, [{ name: 'A', type: 'float', data: values }])
  }
  const picture = premultiplied(passPicture(result, look))
  return writePng(width, height, format === 'png16' ? toStraight16(picture) : toStraight8(picture))
}
