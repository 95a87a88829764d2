import type { ParamValues } from '@/core/params'
import { lineFacts } from '@/core/passes/line-pass'
import type { PassResult } from '@/core/passes/pass-result'
import { activeShot, rigOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { nothingToRender } from './render-check'
import { inTurn, sceneFor } from './render-scene'

/**
 * The contour of the shot at work, found now.
 * @param params of the contour pass.
 * @throws {CancelledError} when aborted; {Error} in words where a model cannot be read.
 */
export async function findContour(
  project: Project,
  params: ParamValues,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<PassResult> {
  const nothing = nothingToRender(project)
  if (nothing !== null) throw new Error(nothing)
  const shot = activeShot(project)
  const { camera, frame } = shot
  const rig = rigOf(project, shot)
  const order = { kind: 'contour' as const, params, effort: { samples: 1, rays: 0 } }
  const { drawing } = await inTurn(async () => {
    const workers = await sceneFor(project)
    return workers.draw({ camera, frame, rig, order }, signal, onShare)
  }, signal)
  const facts = lineFacts(rig, camera, frame)
  return { kind: 'contour', ...frame, channels: [], surfaces: [], lights: [], params, facts, drawing }
}
