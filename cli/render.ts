import { availableParallelism } from 'node:os'
import path from 'node:path'
import { InvalidValueError } from '@/core/errors'
import { safeFileName } from '@/core/formats/safe-file-name'
import { writeExr } from '@/core/formats/exr'
import { writePassExr } from '@/core/formats/pass-exr'
import { writePng } from '@/core/formats/png'
import type { ParamValues } from '@/core/params'
import { paramControls, paramDefaults, parseParams } from '@/core/params'
import type { PassOrder } from '@/core/passes/render-tile'
import type { PassResult } from '@/core/passes/pass-result'
import { inkStrokes } from '@/core/lines/ink-strokes'
import { passPicture, passStrokes } from '@/core/passes/pass-picture'
import { isPassKind, PASS_KINDS, passKind, type PassKindName } from '@/core/passes/registry'
import { premultiplied, toStraight16, toStraight8 } from '@/core/picture/rgba-picture'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { rigOf, rigOfPass } from '@/data/active-shot'
import type { ProjectPass } from '@/data/project-schema'
import { RenderPool } from '@/engine/render-pool'
import { runRender } from '@/engine/run-render'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { parseOptions, wholeNumber } from './arguments'
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
  const whole = (name: 'samples' | 'rays' | 'seed' | 'threads', min: number, max: number) =>
    values[name] === undefined ? null : wholeNumber(values[name], name, min, max)
  const samples = whole('samples', 1, MOST_EFFORT)
  const rays = whole('rays', 1, MOST_EFFORT)
  const seed = whole('seed', 0, 2 ** 32 - 1) ?? 0
  const threads = whole('threads', 1, 256) ?? availableParallelism()
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
  const orders = wanted.map(({ kind, stored }): PassOrder => {
    const own = settings.filter((s) => s.kind === kind && s.render)
    const params = { ...stored?.params, ...Object.fromEntries(own.map((s) => [s.param, s.value])) }
    const effort = passKind(kind).efforts.final
    return {
      kind,
      params: asUsage(() => parseParams(passKind(kind).renderSchema, params, kind)),
      effort: { samples: samples ?? effort.samples, rays: rays ?? effort.rays },
      rig: project && stored ? rigOfPass(project, stored) : undefined,
      denoise: values.denoise ?? false,
    }
  })
  const looks = orders.map(({ kind }): ParamValues => {
    const own = settings.filter((s) => s.kind === kind && !s.render)
    const style = own.find(({ param }) => param === STYLE)
    const base = style ? passKind(kind).readyLooks[String(style.value)].look : {}
    const changes = own.filter(({ param }) => param !== STYLE).map((s) => [s.param, s.value])
    const params = { ...base, ...Object.fromEntries(changes) }
    return asUsage(() => parseParams(passKind(kind).lookSchema, params, kind))
  })

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

/** The most samples a pixel, or rays a sample, can have; see `effortSchema`. */
const MOST_EFFORT = 4096

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

interface WantedPass {
  readonly kind: PassKindName
  /** How it is set up in the project, if it is there. */
  readonly stored: ProjectPass | undefined
  /** What it is called in file names. */
  readonly word: string
}

/**
 * A pass by its kind, or by its name in the project: of two lightings each has its own.
 * @param stored passes of the shot; undefined without a project.
 */
function wantedPass(name: string, stored: readonly ProjectPass[] | undefined): WantedPass {
  if (isPassKind(name)) return { kind: name, stored: stored?.find((p) => p.kind === name), word: name }
  const found = stored?.find((p) => p.name.toLowerCase() === name.toLowerCase())
  if (found) return { kind: found.kind, stored: found, word: safeFileName(found.name) }
  const own = stored ? `, and in the project ${stored.map((p) => p.name).join(', ')}` : ''
  throw new UsageError(`there is no pass "${name}"; there are ${PASS_KINDS.join(', ')}${own}`)
}

interface Setting {
  readonly kind: string
  readonly param: string
  readonly value: number | string | boolean
  /** Whether it is a render parameter; else it is a look parameter. */
  readonly render: boolean
}

/** Chooses one of a pass's ready looks; single parameters change it. */
const STYLE = 'style'

/** `KIND.PARAM=VALUE`; lengths in world units, or in figure diagonals with a percent sign. */
function parseSetting(text: string, figureDiagonal: number): Setting {
  const match = /^([a-z]+)\.([a-zA-Z]+)=(.+)$/.exec(text)
  if (!match || !isPassKind(match[1])) throw new UsageError(`--set takes KIND.PARAM=VALUE (got "${text}")`)
  const [, kind, param, raw] = match
  const pass = passKind(match[1])
  const styles = Object.keys(pass.readyLooks)
  if (param === STYLE && styles.length > 0) {
    if (!styles.includes(raw))
      throw new UsageError(`${kind} has no style "${raw}"; it has ${styles.join(', ')}`)
    return { kind, param, value: raw, render: false }
  }
  const inRender = paramControls(pass.renderSchema).find((c) => c.name === param)
  const control = inRender ?? paramControls(pass.lookSchema).find((c) => c.name === param)
  if (!control) {
    const known = [
      ...Object.keys(paramDefaults(pass.renderSchema)),
      ...Object.keys(paramDefaults(pass.lookSchema)),
    ]
    throw new UsageError(`${kind} has no parameter "${param}"; it has ${known.join(', ')}`)
  }
  const render = inRender !== undefined
  if (control.control === 'toggle') {
    if (raw !== 'true' && raw !== 'false')
      throw new UsageError(`${kind}.${param} must be true or false (got "${raw}")`)
    return { kind, param, value: raw === 'true', render }
  }
  if (control.control !== 'number') return { kind, param, value: raw, render }
  const percent = raw.endsWith('%')
  const number = Number(percent ? raw.slice(0, -1) : raw)
  if (!Number.isFinite(number)) throw new UsageError(`${kind}.${param} must be a number (got "${raw}")`)
  const isLength = control.unit === '%D'
  if (percent && !isLength) throw new UsageError(`${kind}.${param} takes no percent (got "${raw}")`)
  return { kind, param, value: isLength && !percent ? (number / figureDiagonal) * 100 : number, render }
}

function asUsage<T>(action: () => T): T {
  try {
    return action()
  } catch (error) {
    if (error instanceof InvalidValueError) throw new UsageError(error.message)
    throw error
  }
}
