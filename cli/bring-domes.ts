import type { Project } from '@/data/project-schema'
import type { OpenArchive } from '@/data/project-archive'
import { pictureFile } from '@/data/project-pictures'
import { decodeDome } from '@/engine/decode-dome'
import type { RenderPool } from '@/engine/render-pool'

/**
 * Gives workers the pictures all round that lights of a project are made of.
 * @param files where its files are; null: it has none.
 * @throws {UnreadableFileError} naming one that cannot be read.
 */
export async function bringDomes(
  pool: Pick<RenderPool, 'setDome'>,
  project: Project | null | undefined,
  files: Pick<OpenArchive, 'file'> | null,
): Promise<void> {
  if (!project || !files) return
  const brought = new Set<string>()
  for (const light of project.rigs.flatMap(({ lights }) => lights)) {
    if (light.kind !== 'dome' || light.look !== 'picture' || light.pictureId === null) continue
    const picture = brought.has(light.pictureId) ? null : pictureFile(project, light.pictureId)
    if (!picture) continue
    brought.add(light.pictureId)
    const { bytes } = await files.file(picture.fileId)
    await pool.setDome(light.pictureId, await decodeDome(bytes, picture.name))
  }
}
