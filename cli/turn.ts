// One file: one command: what is asked, refused, planned, rendered and written, in that order.
import { existsSync } from 'node:fs'
import { rm } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import type { EffortName } from '@/core/passes/effort'
import { hashJson } from '@/core/math/stable-hash'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { FrameMean } from '@/core/film/frame-mean'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone, type RowsOf } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { EXPORT_SERIES, exportSheet } from '@/core/sheet/export-sheet'
import { READY_REVEALS, readyReveals } from '@/core/turn/ready-reveals'
import { frameCount, frameSize, newTurn, STEADY, type Turn } from '@/core/turn/turn-schema'
import { MADE_BY } from '@/data/frame-names'
import { toSceneModels } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { paintedSheet, type PaintedSheet } from '@/data/shown-sheets'
import {
  projectInFrame,
  shardOf,
  turningOf,
  turnOrder,
  turnPoses,
  turnStage,
  type TurnPose,
  type TurnStage,
} from '@/data/turn-frames'
import { RenderPool } from '@/engine/render-pool'
import type { Turning } from '@/engine/render-request'
import type { SheetStore } from '@/engine/sheet-store'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { parseOptions, parseSize, qualityNamed, wholeNumber } from './arguments'
import { exrOf } from './exr-of'
import { filmEnding, writeFilm } from './film'
import { bringDomes } from './bring-domes'
import { loadAsProject } from './load-input'
import { bringPictures, sheetNamed, storeOfFiles } from './load-sheet'
import { renderInScene, type Results } from './render-project'
import { parseShard } from './shards'
import { tellShare } from './told'
import { frameFile, MANIFEST, readManifest, type FrameFormat, type TurnManifest } from './turn-manifest'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE =
  'relief turn PROJECT --out DIR|FILE.gif|.apng|.webp|.mp4|.webm [--turn NAME] [--frames A-B] [--size WxH] [--format png|png16|exr] [--shard I/N]'
/** Tiles of layers that stay the same from frame to frame. */
const KEPT_BYTES = 320 * 2 ** 20

export const turnOptions = {
  out: { type: 'string' },
  turn: { type: 'string' },
  sheet: { type: 'string' },
  frames: { type: 'string' },
  size: { type: 'string' },
  shard: { type: 'string' },
  quality: { type: 'string' },
  threads: { type: 'string' },
  resume: { type: 'boolean' },
  reveals: { type: 'string' },
  turns: { type: 'string' },
  'turn-frames': { type: 'string' },
  plays: { type: 'string' },
  format: { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

/** `relief turn`: a turntable of a project as numbered pictures, or as a film. */
export async function turn(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals } = parseOptions(argv, turnOptions)
  const film = values.out === undefined ? null : filmEnding(values.out)
  // Frames of a film lie beside it until it is whole.
  const out = values.out !== undefined && film ? `${values.out}.frames` : values.out
  if (positionals.length !== 1 || !out) throw new UsageError(USAGE)
  const [input] = positionals
  const threads =
    values.threads === undefined ? availableParallelism() : wholeNumber(values.threads, 'threads', 1, 256)
  const plays = values.plays === undefined ? 0 : wholeNumber(values.plays, 'plays', 0, 10_000)
  const format = formatOf(values.format)
  if (film && values.format !== undefined)
    throw new UsageError('--format is of numbered pictures: a film is what its name ends with')
  if (film && values.shard !== undefined)
    throw new UsageError('--shard writes numbered pictures: relief join makes a film of them')
  if (film && values.out) await refuseExisting(values.out, values.overwrite ?? false)
  const shard = parseShard(values.shard ?? '1/1')
  if (values.turn !== undefined && values.sheet !== undefined)
    throw new UsageError('--turn and --sheet name one thing twice')

  // 2. The turntable, and what it is made from.
  const loaded = await loadAsProject([input])
  const { project, archive, sourceOf } = loaded
  if (!archive) throw new UsageError(`relief turn takes a project (got "${input}")`)
  const own = turnNamed(project, values, input)
  const quality = values.quality === undefined ? own.quality : qualityNamed(values.quality)
  const models = toSceneModels(project, sourceOf)
  const { min, max } = buildSceneGeometry(models).subjectBounds
  const pivot = [0, 1, 2].map((axis) => (min[axis] + max[axis]) / 2) as [number, number, number]
  const stage = turnStage(project, own, pivot)
  const size = values.size === undefined ? frameSize(own, stage.sheet) : parseSize(values.size)
  const frames = frameCount(own.motion)
  const [from, to] = values.frames === undefined ? [0, frames] : parseFrames(values.frames, frames)
  const poses = shardOf(turnPoses(stage, from, to), shard.index, shard.count)
  const key = hashJson({
    // Frames that another version made otherwise are not joined to these.
    madeBy: MADE_BY,
    // Its name is in no picture where no type says it.
    project: { ...project, turns: [], name: saysName(project) ? project.name : '' },
    turn: { ...own, name: '', marks: null },
    quality,
    ...size,
    ...(format !== 'png' && { format }),
  })

  // 3. What is there already.
  const before = await readManifest(out)
  if (before && before.key !== key && !values.overwrite)
    throw new UsageError(`--out ${out} holds frames of something else: --overwrite replaces them`)
  const isThere = (frame: number): boolean =>
    before?.key === key &&
    before.written.includes(frame) &&
    existsSync(path.join(out, frameFile(frame, frames, format)))
  const asked = poses.flatMap((pose) => pose.frames)
  if (before?.key === key && asked.some(isThere) && !values.resume && !values.overwrite)
    throw new UsageError(
      `--out ${out} holds some of these frames: --resume goes on from them, --overwrite makes them anew`,
    )
  const taken = asked.find(
    (frame) => !isThere(frame) && existsSync(path.join(out, frameFile(frame, frames, format))),
  )
  if (taken !== undefined && !values.overwrite)
    throw new UsageError(
      `${path.join(out, frameFile(taken, frames, format))} is there already: --overwrite replaces it`,
    )
  const written = new Set(values.overwrite || !before ? [] : before.written.filter(isThere))

  // 4. Pose by pose: passes, then every frame that stands so.
  await withFolders([path.join(out, MANIFEST)], async () => {
    const store = await storeOfFiles(archive, neededBy(project, stage.sheet), input)
    const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
    const frameWriter = new FrameWriter(stage, store, size)
    const tellWritten = () =>
      writeWhole(
        path.join(out, MANIFEST),
        manifestOf({ own, key, frames, asked: [from, to], written, format, ...size }),
      )
    try {
      // A share that has no frames is one that is done, too.
      await tellWritten()
      await pool.setScene(models)
      await bringDomes(pool, project, archive)
      const turning = turningOf(stage, size, quality)
      const steps = poses.flatMap((pose) => {
        const missing = pose.frames.filter((frame) => !written.has(frame))
        return missing.length === 0 ? [] : pose.poses.map((_, step) => ({ pose, step, missing }))
      })
      const begin = (k: number): Promise<PosePasses> | null => {
        if (k >= steps.length) return null
        const { pose, step, missing } = steps[k]
        const made = renderPose(stage, pose, step, missing[0], size, quality, pool, turning)
        // It is told where it is waited for.
        made.catch(() => undefined)
        return made
      }
      // While frames are composited, the next pose is rendered.
      let rendered = begin(0)
      for (const [k, { pose, step, missing }] of steps.entries()) {
        const results = await rendered
        if (!results) break
        rendered = begin(k + 1)
        for (const frame of missing) {
          const shown = projectInFrame(stage, pose.poses[step], frame, size)
          const sheet = shown.sheets.find(({ id }) => id === stage.sheet.id) ?? stage.sheet
          await bringPictures(store, archive, neededBy(shown, sheet).pictureIds)
          frameWriter.show(shown, results)
          if (pose.poses.length > 1 && !frameWriter.isLast(frame, pose.poses.length)) continue
          await writeWhole(path.join(out, frameFile(frame, frames, format)), frameWriter.file(frame, format))
          written.add(frame)
          // After every frame: what was interrupted goes on from here.
          await tellWritten()
          tellShare(asked.filter((own) => written.has(own)).length / asked.length)
        }
      }
    } finally {
      pool.close()
    }
    if (film && values.out) {
      const order = { folderOf: () => out, from, to, plays, frames, rate: own.motion.rate, ...size }
      await writeFilm(order, values.out, film)
      await rm(out, { recursive: true })
    }
  })
}

const manifestOf = ({
  own,
  key,
  frames,
  asked,
  written,
  format,
  width,
  height,
}: {
  readonly own: Turn
  readonly key: string
  readonly frames: number
  readonly asked: [number, number]
  readonly written: ReadonlySet<number>
  readonly format: FrameFormat
  readonly width: number
  readonly height: number
}): string => {
  const manifest: TurnManifest = {
    kind: 'turntable frames',
    version: 1,
    turn: own.name,
    key,
    width,
    height,
    rate: own.motion.rate,
    format,
    frames,
    asked,
    written: [...written].sort((a, b) => a - b),
  }
  return JSON.stringify(manifest) + '\n'
}

/** Passes of a pose, and the project whose passes say how they were rendered. */
interface PosePasses {
  readonly project: Project
  readonly results: Results
}

async function renderPose(
  stage: TurnStage,
  pose: TurnPose,
  step: number,
  frame: number,
  size: { readonly width: number; readonly height: number },
  quality: EffortName,
  pool: RenderPool,
  turning: Turning,
): Promise<PosePasses> {
  const project = projectInFrame(stage, pose.poses[step], frame, size)
  const own = project.passes.filter(({ id, shotId }) => pose.passIds.includes(id) && shotId === stage.shot.id)
  const results: Results = new Map()
  const ids = own.map(({ id }) => id)
  await renderInScene(project, ids, quality, pool, results, (id) => `${pose.name} ${step} ${id}`, {
    turning,
    orderIn: (posed, pass) => turnOrder(posed, pass, quality),
  })
  return { project, results }
}

/** Composites frames, one after the other: tiles that they have in common are kept. */
class FrameWriter {
  private readonly tiles = new KeptTiles()
  private readonly evaluator
  private painted: PaintedSheet | null = null
  /** Of frames while the shutter is open. */
  private readonly means = new Map<number, { readonly mean: FrameMean; steps: number }>()

  constructor(
    private readonly stage: TurnStage,
    private readonly store: SheetStore,
    private readonly size: { readonly width: number; readonly height: number },
  ) {
    this.evaluator = new SheetEvaluator(this.tiles, store.resources)
  }

  /** Takes up how a project stands in a frame, and its passes. */
  show(shown: Project, made: PosePasses): void {
    const { stage, store } = this
    const project: Project = { ...shown, passes: made.project.passes }
    for (const pass of project.passes) {
      if (pass.shotId !== stage.shot.id) continue
      const result = pass.rendered && made.results.get(pass.rendered.resultId)
      if (!pass.rendered || !result) {
        store.passes.delete(pass.id)
        continue
      }
      const { facts, ...seen } = seenAs(project, pass)
      store.passes.set(pass.id, {
        result: { ...result, ...seen, ...(facts && { facts }) },
        revision: pass.rendered.resultId,
        shotId: pass.shotId,
      })
    }
    const sheet = project.sheets.find(({ id }) => id === stage.sheet.id) ?? stage.sheet
    this.painted = paintedSheet(project, sheet)
    this.tiles.tick()
  }

  /** Adds what is shown to a frame that is the mean of several. @returns whether it was the last of them. */
  isLast(frame: number, steps: number): boolean {
    const { width, height } = this.size
    const held = this.means.get(frame) ?? { mean: new FrameMean(width, height), steps: 0 }
    this.means.set(frame, held)
    held.mean.add(this.rowsOf('floats', () => undefined))
    this.tiles.shrinkTo(KEPT_BYTES)
    return ++held.steps === steps
  }

  /** The frame as a file. */
  *file(frame: number, format: FrameFormat): Generator<Uint8Array> {
    const { evaluator, size, store, stage, painted } = this
    if (!painted) return
    const rowsOf = this.means.get(frame)?.mean.rowsOf ?? rowsAlone(evaluator, size.width)
    this.means.delete(frame)
    if (format === 'exr') {
      this.begin()
      yield exrOf(size, rowsOf)
    } else {
      const options = { ...size, transparent: stage.turn.isClear, packing: 'quick' as const }
      const kind = format === 'png' ? 'png8' : format
      yield* exportSheet(painted, evaluator, store.resources, kind, options, undefined, rowsOf)
    }
    this.tiles.shrinkTo(KEPT_BYTES)
  }

  private begin(): void {
    const { evaluator, painted, size, stage, store } = this
    const view = { size, transparent: stage.turn.isClear }
    if (painted) evaluator.begin(planSheet(painted, view, store.resources), EXPORT_SERIES)
  }

  private readonly rowsOf: RowsOf = (form, onProgress) => {
    this.begin()
    return rowsAlone(this.evaluator, this.size.width)(form, onProgress)
  }
}

const FRAME_FORMATS: readonly FrameFormat[] = ['png', 'png16', 'exr']

function formatOf(name: string | undefined): FrameFormat {
  const found = FRAME_FORMATS.find((own) => own === (name ?? 'png'))
  if (!found) throw new UsageError(`--format takes ${FRAME_FORMATS.join(', ')} (got "${name}")`)
  return found
}

const saysName = ({ sheets }: Project): boolean => JSON.stringify(sheets).includes('{project}')

/** `10-20`: both of them too; `10`: that one. @returns from, and before which. */
function parseFrames(text: string, frames: number): [number, number] {
  const match = /^(\d+)(?:-(\d+))?$/.exec(text)
  const from = Number(match?.[1])
  const last = match?.[2] === undefined ? from : Number(match[2])
  if (!match || last < from || last >= frames)
    throw new UsageError(`--frames takes A-B within 0-${frames - 1} (got "${text}")`)
  return [from, last + 1]
}

interface TurnValues {
  readonly turn?: string
  readonly sheet?: string
  readonly turns?: string
  readonly 'turn-frames'?: string
  readonly reveals?: string
}

/**
 * A turntable by its name, or a plain one of a sheet; without either the first of the project, or one of the sheet at work. Turns
 * and frames are given for plain ones; reveals that are made in one press are added to either.
 */
function turnNamed(project: Project, values: TurnValues, file: string): Turn {
  const found = values.turn === undefined ? null : turnOf(project, values.turn, file)
  const first = values.turn === undefined && values.sheet === undefined ? project.turns.at(0) : undefined
  const stored = found ?? first
  const asked = values.turns !== undefined || values['turn-frames'] !== undefined
  if (stored && asked)
    throw new UsageError(
      `--turns and --turn-frames are for a plain turn of a sheet: "${stored.name}" has its own`,
    )
  const turns = values.turns === undefined ? 1 : wholeNumber(values.turns, 'turns', 1, 100)
  const framesPerTurn =
    values['turn-frames'] === undefined
      ? STEADY.framesPerTurn
      : wholeNumber(values['turn-frames'], 'turn-frames', 2, 10_000)
  const shown = stored ? null : sheetNamed(project, values.sheet, file)
  const own = stored ?? newTurn('turn', shown?.name ?? '', shown?.id ?? '', { turns, framesPerTurn })
  if (values.reveals === undefined) return own
  const sheet = project.sheets.find(({ id }) => id === own.sheetId)
  const kindOf = (passId: string) => project.passes.find(({ id }) => id === passId)?.kind ?? null
  const more = values.reveals.split(',').flatMap((text, i) => {
    const name = READY_REVEALS.find((one) => one === text.trim())
    if (!name) throw new UsageError(`--reveals takes ${READY_REVEALS.join(', ')} (got "${text}")`)
    let count = 0
    const made = sheet ? readyReveals(name, sheet, own.motion, kindOf, () => `${name}-${i}-${count++}`) : []
    if (made.length === 0)
      throw new UsageError(`--reveals ${name}: sheet "${sheet?.name ?? ''}" has no layer for it`)
    return made
  })
  return { ...own, reveals: [...own.reveals, ...more] }
}

function turnOf(project: Project, name: string, file: string): Turn {
  // Two may be called alike; the application asks by what they are kept under.
  const found = project.turns.find((own) => own.id === name) ?? project.turns.find((own) => own.name === name)
  if (found) return found
  const names = project.turns.map((own) => `"${own.name}"`).join(', ')
  throw new UnreadableFileError(file, `has no turntable "${name}"${names && `, but ${names}`}`)
}
