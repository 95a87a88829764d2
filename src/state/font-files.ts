import { catalogueFont } from '@/core/type/font-catalogue'
import { loadFile } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'

/**
 * The files of a font: one of ours, from this application's own address, or one that was brought.
 * @throws {Error} in words, where it is not there.
 */
export async function fontFiles(
  project: Pick<Project, 'id' | 'fonts'>,
  fontId: string,
): Promise<{ readonly name: string; readonly bytes: Uint8Array }[]> {
  const shipped = catalogueFont(fontId)
  if (shipped)
    return Promise.all(
      shipped.files.map(async (name) => {
        const found = await fetch(`/fonts/${name}`)
        if (!found.ok) throw new Error(`the font ${shipped.family} cannot be loaded`)
        return { name, bytes: new Uint8Array(await found.arrayBuffer()) }
      }),
    )
  const own = project.fonts.find(({ id }) => id === fontId)
  if (!own) throw new Error('its font is not in this project')
  return [{ name: own.name, bytes: await loadFile(project.id, own.fileId) }]
}
