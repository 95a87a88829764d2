import { activeSheet } from '@/data/active-shot'
import { database } from '@/data/database'
import { loadProject } from '@/data/project-repository'
import { askSheet } from './sheet-sync'

const WIDTH = 640
const HEIGHT = 400

/** Keeps the start page's picture of a project: cut to its shape from a picture of the whole sheet. */
export async function keepThumbnail(
  projectId: string,
  picture: CanvasImageSource & { width: number; height: number },
): Promise<void> {
  const small = new OffscreenCanvas(WIDTH, HEIGHT)
  const context = small.getContext('2d')
  if (!context) return
  const scale = Math.max(WIDTH / picture.width, HEIGHT / picture.height)
  const [width, height] = [picture.width * scale, picture.height * scale]
  context.imageSmoothingQuality = 'high'
  context.drawImage(picture, (WIDTH - width) / 2, (HEIGHT - height) / 2, width, height)
  const bytes = new Uint8Array(await (await small.convertToBlob({ type: 'image/png' })).arrayBuffer())
  await database.projects.update(projectId, { thumbnail: bytes })
}

/** Composites a stored project's sheet in the background, for its first picture. */
export async function makeThumbnail(projectId: string): Promise<void> {
  const project = await loadProject(projectId)
  const sheet = activeSheet(project)
  const size = { width: WIDTH, height: Math.max(1, Math.round((WIDTH * sheet.height) / sheet.width)) }
  const raster = await askSheet(project, (worker) =>
    worker.raster({ type: 'compose', sheet, size, upTo: sheet.roots.length, without: null }),
  )
  if (!raster) return
  await keepThumbnail(
    projectId,
    await createImageBitmap(new ImageData(raster.rgba, raster.width, raster.height)),
  )
}
