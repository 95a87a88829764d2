import type { RenderSize } from '@/core/sheet/sheet-resources'
import { activeSheet } from '@/data/active-shot'
import { database } from '@/data/database'
import { keepLook } from '@/data/looks'
import { isOfPoster } from '@/data/poster-series'
import { loadProject } from '@/data/project-repository'
import type { ProjectSheet } from '@/data/project-schema'
import { pictureOfStored } from './sheet-sync'

/** The shape of the start page's pictures of projects. */
const SIZE: RenderSize = { width: 640, height: 400 }
/** The longer side of those of pages and mock-ups, which keep their own. */
const LOOK_SIDE = 480

/** Makes a picture of a whole sheet, cut to a size, as PNG; null: there is none, and the one that is kept stays. */
type Snapshot = (size: RenderSize) => Promise<Uint8Array<ArrayBuffer> | null>

/** Keeps the start page's picture of a sheet: a project's, or a poster's where the sheet is of one. */
export async function keepThumbnail(
  projectId: string,
  sheet: ProjectSheet,
  snapshot: Snapshot,
): Promise<void> {
  if (isOfPoster(sheet)) {
    const by = Math.min(1, LOOK_SIDE / Math.max(sheet.width, sheet.height))
    const size = { width: Math.round(sheet.width * by), height: Math.round(sheet.height * by) }
    const look = await snapshot(size)
    if (look) await keepLook(projectId, sheet.id, look)
    return
  }
  const thumbnail = await snapshot(SIZE)
  if (thumbnail) await database.projects.update(projectId, { thumbnail })
}

/** Composites a stored project's sheet in the background, for its first picture. */
export async function makeThumbnail(projectId: string): Promise<void> {
  const project = await loadProject(projectId)
  await keepThumbnail(projectId, activeSheet(project), (size) => pictureOfStored(project, size))
}
