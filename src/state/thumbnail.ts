import type { RenderSize } from '@/core/sheet/sheet-resources'
import { database } from '@/data/database'
import { loadProject } from '@/data/project-repository'
import { askSheet } from './sheet-sync'

/** The shape of the start page's pictures. */
const SIZE: RenderSize = { width: 640, height: 400 }

/**
 * Keeps the start page's picture of a project.
 * @param snapshot makes it of the whole sheet, cut to a size, as PNG; null: the one that is there stays.
 */
export async function keepThumbnail(
  projectId: string,
  snapshot: (size: RenderSize) => Promise<Uint8Array<ArrayBuffer> | null>,
): Promise<void> {
  const thumbnail = await snapshot(SIZE)
  if (thumbnail) await database.projects.update(projectId, { thumbnail })
}

/** Composites a stored project's sheet in the background, for its first picture. */
export async function makeThumbnail(projectId: string): Promise<void> {
  const project = await loadProject(projectId)
  await keepThumbnail(projectId, (size) => askSheet(project, (worker) => worker.snapshot(null, size)))
}
