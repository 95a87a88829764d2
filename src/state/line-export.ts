import { DEFAULT_LINE_SETTING } from '@/core/lines/find-lines'
import type { LineKind } from '@/core/lines/line-kinds'
import type { LineStyle } from '@/core/lines/line-style'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { sceneFor } from './render-scene'

/**
 * The lines of the shot at work as an SVG file.
 * @param heightMm the picture's height on paper; null: pixels.
 * @throws {CancelledError} when aborted; {Error} in words where a model cannot be read.
 */
export async function exportLines(
  project: Project,
  kinds: readonly LineKind[],
  style: LineStyle,
  heightMm: number | null,
  signal: AbortSignal,
): Promise<Uint8Array> {
  if (project.models.length === 0) throw new Error('there is no model in the project yet')
  const { camera, frame } = activeShot(project)
  const workers = await sceneFor(project)
  const setting = { ...DEFAULT_LINE_SETTING, kinds }
  return workers.linesFile({ camera, frame, setting, style, heightMm }, signal)
}
