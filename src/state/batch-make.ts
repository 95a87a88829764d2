import { COLOURS_NOW, type BatchChoice, type BatchFile } from '@/core/batch/batch-plan'
import type { PassResult } from '@/core/passes/pass-result'
import type { Frame } from '@/core/scene/camera'
import { rigOf, rigOfPass, shotOf } from '@/data/active-shot'
import { inScheme } from '@/data/in-scheme'
import { lookOnSheet } from '@/data/look-on-sheet'
import { newId } from '@/data/new-project'
import { orderOf, renderedOf } from '@/data/pass-render'
import { changedMaterials } from '@/data/project-scene'
import type { Project, ProjectPass } from '@/data/project-schema'
import { neededBy } from '@/data/sheet-needs'
import { passAsFile } from '@/data/storage-service'
import { loadFrame } from '@/data/stored-frames'
import { renderAll } from '@/engine/render-all'
import { isRenderedAnew, type KnownFrames } from './batch-sources'
import { bringDomes, inTurn, sceneFor } from './render-scene'
import { renderedNow } from './rendered-now'
import { exportSheetFile } from './sheet-sync'

/** Told how much of a file is made, 0…1. */
type OnShare = (share01: number) => void

/**
 * Makes one file of a batch. What it wants that is not there is rendered for it, and kept nowhere.
 * @throws {CancelledError} when aborted; {Error} in words.
 */
export async function makeFile(
  project: Project,
  row: BatchFile,
  choice: BatchChoice,
  { names }: KnownFrames,
  onShare: OnShare,
  signal: AbortSignal,
): Promise<Blob> {
  const { source, scheme, frame } = row
  const shown = scheme === COLOURS_NOW ? project : inScheme(project, scheme)
  switch (source.what) {
    case 'turn': {
      const name = names.get(source.id)?.at(frame ?? 0)
      const picture = name === undefined ? null : await loadFrame(project.id, name)
      if (!picture) throw new Error('the frame is not rendered')
      return picture
    }
    case 'sheet':
      return sheetFile(shown, row, choice, onShare, signal)
    case 'pass':
      return passFileOf(project, shown, row, choice, onShare, signal)
  }
}

async function sheetFile(
  project: Project,
  { source, width, height }: BatchFile,
  { sheetFormat: format }: BatchChoice,
  onShare: OnShare,
  signal: AbortSignal,
): Promise<Blob> {
  const sheet = project.sheets.find(({ id }) => id === source.id)
  if (!sheet) throw new Error('the sheet is gone')
  const message = { type: 'export', format, size: { width, height }, transparent: false } as const
  // In other colours than they were rendered in, passes that hold these are rendered again.
  const stale = neededBy(project, sheet).passes.filter(
    (pass) => pass.rendered && isInOtherColours(project, pass),
  )
  const results = new Map<string, PassResult>()
  const noted = new Map<string, ProjectPass['rendered']>()
  for (const [i, pass] of stale.entries()) {
    const part = (share: number) => onShare((0.9 * (i + share)) / stale.length)
    const { frame } = shotOf(project, pass)
    const { result, rendered } = await renderPass(project, pass, frame, part, signal)
    results.set(pass.id, result)
    noted.set(pass.id, rendered)
  }
  const posed =
    stale.length === 0
      ? project
      : {
          ...project,
          passes: project.passes.map((pass) => ({ ...pass, rendered: noted.get(pass.id) ?? pass.rendered })),
        }
  const from = stale.length > 0 ? 0.9 : 0
  return exportSheetFile(
    posed,
    sheet,
    message,
    (share) => onShare(from + (1 - from) * share),
    signal,
    results,
  )
}

/** Whether a rendered pass holds colours that the project does not have: its colours are not live. */
const isInOtherColours = (project: Project, pass: ProjectPass): boolean =>
  changedMaterials(project, pass).length > 0

async function passFileOf(
  project: Project,
  shown: Project,
  row: BatchFile,
  { passFormat: format }: BatchChoice,
  onShare: OnShare,
  signal: AbortSignal,
): Promise<Blob> {
  const pass = shown.passes.find(({ id }) => id === row.source.id)
  if (!pass) throw new Error('the pass is gone')
  const look = lookOnSheet(shown, pass.id, pass.kind)
  const stored = isRenderedAnew(project, pass, row) ? null : renderedNow(shown, pass)
  if (stored) return passAsFile({ projectId: project.id, rendered: stored, look, format }, signal)
  const { width, height } = row
  const { result } = await renderPass(shown, pass, { width, height }, onShare, signal)
  return passAsFile({ projectId: project.id, rendered: result, look, format }, signal)
}

/** Renders a pass as it was rendered last, or well where it never was. */
async function renderPass(
  project: Project,
  pass: ProjectPass,
  frame: Frame,
  onShare: OnShare,
  signal: AbortSignal,
) {
  const quality = pass.rendered?.quality ?? 'good'
  const shot = shotOf(project, pass)
  const order = orderOf(project, pass, quality)
  const rig = rigOf(project, shot)
  const workers = async () => {
    const pool = await sceneFor(project)
    for (const own of new Set([rig, rigOfPass(project, pass)])) await bringDomes(pool, project, own)
    return pool
  }
  const plan = { camera: shot.camera, frame, rig, seed: 0, preview: false, passes: [{ id: pass.id, order }] }
  const made = await inTurn(() => renderAll(plan, workers, signal, undefined, onShare), signal)
  const own = made.get(pass.id)
  if (!own) throw new Error(`${pass.name} was not rendered`)
  const posed = { ...shot, frame }
  return { result: own.result, rendered: renderedOf(project, posed, pass, order, quality, newId(), own) }
}
