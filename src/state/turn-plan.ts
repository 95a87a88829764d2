import { CancelledError } from '@/core/errors'
import type { Vec3 } from '@/core/math/vec3'
import { frameCount, frameSize, type Turn } from '@/core/turn/turn-schema'
import { frameNames } from '@/data/frame-names'
import type { Project } from '@/data/project-schema'
import {
  savingsOf,
  turningOf,
  turnPoses,
  turnStage,
  type Savings,
  type TurnPose,
  type TurnStage,
} from '@/data/turn-frames'
import type { Turning } from '@/engine/render-request'
import { useMeshStore } from './mesh-store'
import { subjectExtent } from './subject-extent'

/** What the frames of a turntable are made from, and what each is kept under. */
export interface TurnPlan {
  readonly stage: TurnStage
  readonly size: { readonly width: number; readonly height: number }
  /** Frames that stand alike, in the order in which they are rendered: every sixteenth first, then those between. */
  readonly poses: readonly TurnPose[]
  /** Of each frame. */
  readonly names: readonly string[]
  readonly savings: Savings
  /** It as the surfaces see it. */
  readonly turning: Turning
}

/** The middle of the subject: what turns, turns about it. */
export function pivotOf(project: Pick<Project, 'models'>): Vec3 {
  const { models } = useMeshStore.getState()
  const bounds = subjectExtent(project, (id) => models[id]?.outline)?.bounds
  if (!bounds) return [0, 0, 0]
  const { min, max } = bounds
  return [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2]
}

/** The first is every sixteenth frame: how it moves is seen long before all frames are there. */
const COARSEST = 16

/** Frames from coarse to fine: 0, 16, 32, … 8, 24, … 4, 12, … */
export function coarseToFine(count: number): number[] {
  const order: number[] = []
  for (let step = COARSEST; step >= 1; step /= 2)
    for (
      let frame = step === COARSEST ? 0 : step;
      frame < count;
      frame += step === COARSEST ? step : 2 * step
    )
      order.push(frame)
  return order
}

function inOrder(poses: readonly TurnPose[], count: number): TurnPose[] {
  const byFrame = new Map(poses.flatMap((pose) => pose.frames.map((frame) => [frame, pose] as const)))
  return [...new Set(coarseToFine(count).flatMap((frame) => byFrame.get(frame) ?? []))]
}

/** How long the page is held up at once. Milliseconds. */
const SLICE_MS = 6
const rest = (): Promise<void> => new Promise((resolve) => setTimeout(resolve))

/**
 * Plans a turntable, in small steps beside the page's own work.
 * @throws {CancelledError} when aborted.
 */
export async function planTurn(project: Project, turn: Turn, signal?: AbortSignal): Promise<TurnPlan> {
  const stage = turnStage(project, turn, pivotOf(project))
  const count = frameCount(turn.motion)
  const size = frameSize(turn, stage.sheet)
  const nameOf = frameNames(stage)
  const names: string[] = []
  let since = performance.now()
  for (let frame = 0; frame < count; frame++) {
    names.push(nameOf(frame))
    if (performance.now() - since < SLICE_MS) continue
    await rest()
    if (signal?.aborted) throw new CancelledError('Planning the turntable')
    since = performance.now()
  }
  const poses = inOrder(turnPoses(stage), count)
  return {
    stage,
    size,
    poses,
    names,
    savings: savingsOf(poses, stage),
    turning: turningOf(stage, size, turn.quality),
  }
}
