import { SEEN_ONLY_EFFORTS, type EffortName } from '@/core/passes/effort'
import type { PassKindName } from '@/core/passes/registry'
import type { PassOrder } from '@/core/passes/render-tile'
import type { Vec3 } from '@/core/math/vec3'
import type { Frame } from '@/core/scene/camera'
import { frameSheet, seenOf } from '@/core/turn/frame-sheet'
import { posesAt, posesName, turnedLights, type Pose, type TurnedShot } from '@/core/turn/turn-motion'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { orderOf } from './pass-render'
import { sequencePictures } from './project-pictures'
import type { Project, ProjectPass, ProjectSheet, Shot } from './project-schema'
import { neededBy } from './sheet-needs'

/** What a turntable shows: its sheet, and the shot of that. */
export interface TurnStage {
  readonly project: Project
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly shot: Shot
  readonly turned: TurnedShot
}

/** @param pivot the middle of the subject. */
export function turnStage(project: Project, turn: Turn, pivot: Vec3): TurnStage {
  const sheet = project.sheets.find(({ id }) => id === turn.sheetId)
  const shot = project.shots.find(({ id }) => id === sheet?.shotId)
  if (!sheet || !shot) throw new Error(`turntable ${turn.name} shows a sheet that is not there`)
  const views = new Map(shot.views.map(({ id, camera }) => [id, camera]))
  return { project, turn, sheet, shot, turned: { camera: shot.camera, views, pivot } }
}

/** Frames in which the shot stands alike, and the passes that some of them shows. */
export interface TurnPose {
  readonly name: string
  /** How it stands: more than once where the shutter is open for a while. */
  readonly poses: readonly Pose[]
  readonly frames: readonly number[]
  readonly passIds: readonly string[]
}

/**
 * All poses of a turntable, in the order of their first frames: none is rendered twice, and of each only what a frame shows.
 * @param from, to frames; the last is left out.
 */
export function turnPoses(stage: TurnStage, from = 0, to = frameCount(stage.turn.motion)): TurnPose[] {
  const poses = new Map<string, { poses: Pose[]; frames: number[]; passIds: Set<string> }>()
  for (let frame = from; frame < to; frame++) {
    const stands = posesAt(stage.turn, stage.turned, frame)
    const name = posesName(stands)
    let own = poses.get(name)
    if (!own) poses.set(name, (own = { poses: stands, frames: [], passIds: new Set() }))
    own.frames.push(frame)
    for (const { id } of passesInFrame(stage, frame)) own.passIds.add(id)
  }
  return [...poses].map(([name, { poses: stands, frames, passIds }]) => ({
    name,
    poses: stands,
    frames,
    passIds: [...passIds],
  }))
}

/** The passes that a frame shows, or that what it shows is masked or changed by. */
export function passesInFrame({ project, turn, sheet }: TurnStage, frame: number): readonly ProjectPass[] {
  const now = { ...sheet, ...seenOf(frameSheet(sheet, turn, frame, sequencePictures(project))) }
  const sheets = project.sheets.map((own) => (own.id === sheet.id ? now : own))
  return neededBy({ ...project, sheets }, now).passes
}

/** Passes that are kept on the surfaces as a whole: nothing of them is left to be smoothed. */
const KEPT_WHOLE: readonly PassKindName[] = ['occlusion', 'cavity', 'thickness']

/** Passes of what the camera sees alone. */
const SEEN_ALONE: readonly PassKindName[] = ['id', 'contour', 'wireframe']

/**
 * What renders a pass in a frame. Masks and what lies beneath lines are made of as many samples as the other passes: all see the
 * same, and it is traced once.
 */
export function turnOrder(project: Project, pass: ProjectPass, quality: EffortName): PassOrder {
  const order = orderOf(project, pass, quality)
  if (KEPT_WHOLE.includes(pass.kind)) return { ...order, denoise: false }
  return SEEN_ALONE.includes(pass.kind) ? { ...order, effort: SEEN_ONLY_EFFORTS[quality] } : order
}

/** Between what is kept on the surfaces, where it is seen nearest; pixels. */
const SPACINGS: Readonly<Record<EffortName, number>> = { draft: 2, good: 1, final: 0.75 }

/** A turntable as the surfaces see it: by all of its poses, whichever of them are rendered, so that every part of it is alike. */
export function turningOf(stage: TurnStage, size: Frame, quality: EffortName) {
  const { motion } = stage.turn
  const poses = turnPoses(stage)
  const shown = new Set(poses.flatMap(({ passIds }) => passIds))
  const first = projectInFrame(stage, poses[0].poses[0], 0, size)
  const passes = first.passes.filter(({ id, shotId }) => shotId === stage.shot.id && shown.has(id))
  return {
    cameras: poses.flatMap(({ poses: stands }) => stands.map(({ camera }) => camera)),
    lightsStay: motion.what === 'nothing' || (motion.what === 'camera' && !motion.lightsGoAlong),
    spacingPx: SPACINGS[quality],
    orders: passes.map((pass) => turnOrder(first, pass, quality)),
  }
}

/** What a turntable need not render: frames that stand as others do, and passes where no layer shows them. */
export interface Savings {
  readonly frames: number
  readonly poses: number
  /** In how many frames each pass is shown. */
  readonly passes: readonly { readonly passId: string; readonly frames: number }[]
}

export function savingsOf(poses: readonly TurnPose[], stage: TurnStage): Savings {
  const seen = new Map<string, number>()
  let frames = 0
  for (const { frames: own } of poses)
    for (const frame of own) {
      frames++
      for (const { id, shotId } of passesInFrame(stage, frame))
        if (shotId === stage.shot.id) seen.set(id, (seen.get(id) ?? 0) + 1)
    }
  return {
    frames,
    poses: poses.length,
    passes: [...seen].map(([passId, count]) => ({ passId, frames: count })),
  }
}

/** The part of the turntable that one of several machines renders: poses next to each other, as many as the others have. */
export const shardOf = <T>(poses: readonly T[], index: number, count: number): T[] =>
  poses.slice(Math.floor((index * poses.length) / count), Math.floor(((index + 1) * poses.length) / count))

/**
 * A project as it stands in a frame: an ordinary project, whose shot, lights and sheet are where the turntable has them. Passes
 * are those of no picture yet.
 * @param size of the frame in pixels; passes are as large as they lie on it.
 */
export function projectInFrame(
  { project, turn, sheet, shot }: TurnStage,
  pose: Pose,
  frame: number,
  size: Frame = { width: sheet.width, height: sheet.height },
): Project {
  const now = { ...sheet, ...frameSheet(sheet, turn, frame, sequencePictures(project)) }
  const scale = size.width / sheet.width
  const own: Shot = {
    ...shot,
    camera: pose.camera,
    frame: {
      width: Math.max(16, Math.round(shot.frame.width * scale)),
      height: Math.max(16, Math.round(shot.frame.height * scale)),
    },
    sheetId: sheet.id,
  }
  return {
    ...project,
    shotId: shot.id,
    shots: project.shots.map((one) => (one.id === shot.id ? own : one)),
    sheets: project.sheets.map((one) => (one.id === sheet.id ? now : one)),
    rigs: project.rigs.map((rig) => ({ ...rig, ...turnedLights(rig, pose.lightsTurnDeg) })),
    passes: project.passes.map((pass) => (pass.shotId === shot.id ? { ...pass, rendered: null } : pass)),
  }
}
