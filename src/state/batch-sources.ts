import { hashJson } from '@/core/math/stable-hash'
import {
  COLOURS_NOW,
  fileIdentity,
  type BatchBefore,
  type BatchChoice,
  type BatchFile,
  type BatchSource,
} from '@/core/batch/batch-plan'
import { frameSize, frameCount } from '@/core/turn/turn-schema'
import { shotOf } from '@/data/active-shot'
import { inScheme } from '@/data/in-scheme'
import { orderOf } from '@/data/pass-render'
import { currentRegistration, materialHashes } from '@/data/project-scene'
import type { Project, ProjectPass, ProjectSheet } from '@/data/project-schema'
import { passRevision, sheetRevision } from '@/data/shown-revision'

/** Sheets, passes of every shot and turntables of a project. */
export function batchSources(project: Project): BatchSource[] {
  const { sheets, passes, shots, posters, turns } = project
  /** Pages of several posters are often called alike. */
  const named = (sheet: ProjectSheet) => {
    const poster = posters.find(({ id }) => id === (sheet.mockupOf ?? sheet.page?.posterId))
    return poster ? `${poster.name}, ${sheet.name}` : sheet.name
  }
  const shotName = (id: string | null) => shots.find((shot) => shot.id === id)?.name ?? ''
  return [
    ...sheets.map((sheet): BatchSource => ({
      what: 'sheet',
      id: sheet.id,
      name: named(sheet),
      shot: shotName(sheet.shotId),
      width: sheet.width,
      height: sheet.height,
    })),
    ...passes.map((pass): BatchSource => {
      const { id, name, kind, shotId, rendered } = pass
      const { width, height } = rendered ?? shotOf(project, pass).frame
      return {
        what: 'pass',
        id,
        name,
        kind,
        shot: shotName(shotId),
        width,
        height,
        isRendered: rendered !== null,
      }
    }),
    ...turns.flatMap((turn): BatchSource[] => {
      const sheet = sheets.find(({ id }) => id === turn.sheetId)
      if (!sheet) return []
      const { id, name, motion } = turn
      return [
        {
          what: 'turn',
          id,
          name,
          shot: shotName(sheet.shotId),
          ...frameSize(turn, sheet),
          frames: frameCount(motion),
        },
      ]
    }),
  ]
}

/** Whether a pass is rendered for its file: it was not, or at another size, or in other colours. */
export const isRenderedAnew = (
  project: Project,
  pass: ProjectPass,
  { percent, scheme }: Pick<BatchFile, 'percent' | 'scheme'>,
): boolean =>
  !pass.rendered ||
  percent !== 100 ||
  (scheme !== COLOURS_NOW &&
    hashJson(materialHashes(inScheme(project, scheme), pass.kind)) !== hashJson(pass.rendered.materials))

/** What a file shows, as a word that stays as long as that stays; of frames their names. */
function revisionOf(
  project: Project,
  row: Pick<BatchFile, 'source' | 'scheme' | 'percent' | 'frame'>,
  frameNames: FrameNames,
): string {
  const { source, scheme, frame } = row
  if (source.what === 'turn') return frameNames.get(source.id)?.at(frame ?? 0) ?? ''
  const shown = scheme === COLOURS_NOW ? project : inScheme(project, scheme)
  if (source.what === 'sheet') {
    const sheet = shown.sheets.find(({ id }) => id === source.id)
    const materials = scheme === COLOURS_NOW ? null : shown.models.map((model) => model.materials)
    return sheet ? hashJson([sheetRevision(shown, sheet), materials]) : ''
  }
  const pass = shown.passes.find(({ id }) => id === source.id)
  if (!pass) return ''
  if (!isRenderedAnew(project, pass, row)) return passRevision(shown, pass)
  const order = orderOf(shown, pass, pass.rendered?.quality ?? 'good')
  const shot = shotOf(shown, pass)
  return hashJson([order, currentRegistration(shown, shot), materialHashes(shown, pass.kind)])
}

/** Names of the frames of turntables, by their ids. */
export type FrameNames = ReadonlyMap<string, readonly string[]>

/** What is known of a turntable's frames: what they are kept under, and which are there. */
export interface KnownFrames {
  readonly names: FrameNames
  readonly there: ReadonlySet<string>
}
export const NO_FRAMES: KnownFrames = { names: new Map(), there: new Set() }

/** A file of a batch, and what tells it from others and from itself once it shows something else. */
export const recordOf = (project: Project, row: BatchFile, choice: BatchChoice, { names }: KnownFrames) => ({
  identity: fileIdentity(row, choice),
  file: row.file,
  revision: revisionOf(project, row, names),
})

/**
 * What a plan of files goes by.
 * @param there names of files where they go, small letters.
 */
export function batchBefore(
  project: Project,
  choice: BatchChoice,
  there: ReadonlySet<string>,
  known: KnownFrames,
): BatchBefore {
  const { written } = project.handOver
  const last = new Map(written.map((entry) => [entry.identity, entry.revision]))
  const own = new Set(written.map(({ file }) => file.toLowerCase()))
  return {
    isThere: (file) => there.has(file.toLowerCase()),
    isOwn: (file) => own.has(file.toLowerCase()),
    schemeName: (id) => project.schemes.find((scheme) => scheme.id === id)?.name ?? id,
    since: (row) => {
      const before = last.get(fileIdentity(row, choice))
      if (before === undefined) return 'new'
      return before === revisionOf(project, row, known.names) ? 'as it was' : 'changed'
    },
    missing: ({ source, frame }) => {
      if (source.what !== 'turn' || frame === null) return null
      const name = known.names.get(source.id)?.at(frame)
      return name !== undefined && known.there.has(name) ? null : 'is not rendered yet: see Turntable'
    },
  }
}
