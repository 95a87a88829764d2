import { existsSync } from 'node:fs'
import { rm } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import { EFFORTS, type EffortName } from '@/core/passes/effort'
import { hashJson } from '@/core/math/stable-hash'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone } from '@/core/sheet/evaluate/picture-rows'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { exportSheet } from '@/core/sheet/export-sheet'
import { READY_REVEALS, readyReveals } from '@/core/turn/ready-reveals'
import { frameCount, frameSize, newTurn, STEADY, type Turn } from '@/core/turn/turn-schema'
import { toSceneModels } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { paintedSheet } from '@/data/shown-sheets'
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
import { parseOptions, parseSize, wholeNumber } from './arguments'
import { filmEnding, writeFilm } from './film'
import { loadAsProject } from './load-input'
import { sheetNamed, storeOfFiles } from './load-sheet'
import { renderInScene, type Results } from './render-project'
import { frameFile, MANIFEST, readManifest, type TurnManifest } from './turn-manifest'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE =
  'relief turn PROJECT --out DIR|FILE.gif|.apng|.mp4|.webm [--turn NAME] [--frames A-B] [--size WxH] [--shard I/N]'
/** Tiles of layers that stay the same from frame to frame. */
const KEPT_BYTES = 320 * 2 ** 20

/** `relief turn`: a turntable of a project as numbered pictures, or as a film. */
export async function turn(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals } = parseOptions(argv, {
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
    overwrite: { type: 'boolean' },
  })
  const film = values.out === undefined ? null : filmEnding(values.out)
  // Frames of a film lie beside it until it is whole.
  const out = values.out !== undefined && film ? `${values.out}.frames` : values.out
  if (positionals.length !== 1 || !out) throw new UsageError(USAGE)
  const [input] = positionals
  const threads =
    values.threads === undefined ? availableParallelism() : wholeNumber(values.threads, 'threads', 1, 256)
  const plays = values.plays === undefined ? 0 : wholeNumber(values.plays, 'plays', 0, 10_000)
  if (film && values.shard !== undefined)
    throw new UsageError('--shard writes numbered pictures: relief join makes a film of them')
  if (film && values.out) await refuseExisting(values.out, values.overwrite ?? false)
  const [shard, shards] = values.shard === undefined ? [1, 1] : parseShard(values.shard)
  if (values.turn !== undefined && values.sheet !== undefined)
    throw new UsageError('--turn and --sheet name one thing twice')

  // 2. The turntable, and what it is made from.
  const loaded = await loadAsProject([input])
  const { project, archive, sourceOf } = loaded
  if (!archive) throw new UsageError(`relief turn takes a project (got "${input}")`)
  const own = turnNamed(project, values, input)
  const quality = values.quality === undefined ? own.quality : qualityOf(values.quality)
  const models = toSceneModels(project, sourceOf)
  const { min, max } = buildSceneGeometry(models).subjectBounds
  const pivot = [0, 1, 2].map((axis) => (min[axis] + max[axis]) / 2) as [number, number, number]
  const stage = turnStage(project, own, pivot)
  const size = values.size === undefined ? frameSize(own, stage.sheet) : parseSize(values.size)
  const frames = frameCount(own.motion)
  const [from, to] = values.frames === undefined ? [0, frames] : parseFrames(values.frames, frames)
  const poses = shardOf(turnPoses(stage, from, to), shard - 1, shards)
  const key = hashJson({
    project: { ...project, turns: [], name: '' },
    turn: { ...own, name: '', marks: null },
    quality,
    ...size,
  })

  // 3. What is there already.
  const before = await readManifest(out)
  if (before && before.key !== key && !values.overwrite)
    throw new UsageError(`--out ${out} holds frames of something else: --overwrite replaces them`)
  const isThere = (frame: number): boolean =>
    before?.key === key &&
    before.written.includes(frame) &&
    existsSync(path.join(out, frameFile(frame, frames)))
  const asked = poses.flatMap((pose) => pose.frames)
  if (before?.key === key && asked.some(isThere) && !values.resume && !values.overwrite)
    throw new UsageError(
      `--out ${out} holds some of these frames: --resume goes on from them, --overwrite makes them anew`,
    )
  const taken = asked.find((frame) => !isThere(frame) && existsSync(path.join(out, frameFile(frame, frames))))
  if (taken !== undefined && !values.overwrite)
    throw new UsageError(
      `${path.join(out, frameFile(taken, frames))} is there already: --overwrite replaces it`,
    )
  const written = new Set(values.overwrite || !before ? [] : before.written.filter(isThere))

  // 4. Pose by pose: passes, then every frame that stands so.
  await withFolders([path.join(out, MANIFEST)], async () => {
    const store = await storeOfFiles(archive, neededBy(project, stage.sheet), input)
    const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
    const frameWriter = new FrameWriter(stage, store, size)
    try {
      await pool.setScene(models)
      const turning = turningOf(stage, size, quality)
      for (const pose of poses) {
        const missing = pose.frames.filter((frame) => !written.has(frame))
        if (missing.length === 0) continue
        const results = await renderPose(stage, pose, missing[0], size, quality, pool, turning)
        for (const frame of missing) {
          await writeWhole(path.join(out, frameFile(frame, frames)), frameWriter.frame(pose, frame, results))
          written.add(frame)
          // After every frame: what was interrupted goes on from here.
          await writeWhole(path.join(out, MANIFEST), manifestOf({ own, key, frames, written, ...size }))
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
  written,
  width,
  height,
}: {
  readonly own: Turn
  readonly key: string
  readonly frames: number
  readonly written: ReadonlySet<number>
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
    frames,
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
  frame: number,
  size: { readonly width: number; readonly height: number },
  quality: EffortName,
  pool: RenderPool,
  turning: Turning,
): Promise<PosePasses> {
  const project = projectInFrame(stage, pose.pose, frame, size)
  const own = project.passes.filter(({ id, shotId }) => pose.passIds.includes(id) && shotId === stage.shot.id)
  const results: Results = new Map()
  const ids = own.map(({ id }) => id)
  await renderInScene(project, ids, quality, pool, results, (id) => `${pose.name} ${id}`, {
    turning,
    orderIn: (posed, pass) => turnOrder(posed, pass, quality),
  })
  return { project, results }
}

/** Composites frames, one after the other: tiles that they have in common are kept. */
class FrameWriter {
  private readonly tiles = new KeptTiles()
  private readonly evaluator

  constructor(
    private readonly stage: TurnStage,
    private readonly store: SheetStore,
    private readonly size: { readonly width: number; readonly height: number },
  ) {
    this.evaluator = new SheetEvaluator(this.tiles, store.resources)
  }

  /** @returns the frame as a PNG file. */
  *frame(pose: TurnPose, frame: number, made: PosePasses): Generator<Uint8Array> {
    const { stage, store, evaluator, size } = this
    const bare = projectInFrame(stage, pose.pose, frame, size)
    const project: Project = {
      ...bare,
      passes: made.project.passes,
    }
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
    const painted = paintedSheet(project, sheet)
    this.tiles.tick()
    const options = { ...size, transparent: stage.turn.isClear }
    yield* exportSheet(
      painted,
      evaluator,
      store.resources,
      'png8',
      options,
      undefined,
      rowsAlone(evaluator, size.width),
    )
    this.tiles.shrinkTo(KEPT_BYTES)
  }
}

const qualityOf = (name: string): EffortName => {
  const found = EFFORTS.find((own) => own === name)
  if (!found) throw new UsageError(`--quality takes ${EFFORTS.join(', ')} (got "${name}")`)
  return found
}

/** `2/4`: the second of four. */
function parseShard(text: string): [number, number] {
  const match = /^(\d+)\/(\d+)$/.exec(text)
  const [index, count] = [Number(match?.[1]), Number(match?.[2])]
  if (!match || index < 1 || count < 1 || index > count || count > 100_000)
    throw new UsageError(`--shard takes I/N, the I-th of N (got "${text}")`)
  return [index, count]
}

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
  const found = project.turns.find((own) => own.name === name)
  if (found) return found
  const names = project.turns.map((own) => `"${own.name}"`).join(', ')
  throw new UnreadableFileError(file, `has no turntable "${name}"${names && `, but ${names}`}`)
}
