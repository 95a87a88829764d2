import { newId } from '@/data/new-project'
import { storeFile } from '@/data/storage-service'
import { changeProject, useProjectStore } from '@/state/project-store'
import { sheetService } from '@/state/sheet-sync'

/**
 * Takes a font from a file into the project, with what it says of its licence.
 * @returns its id. @throws {Error} naming the file and why it cannot be read.
 */
export async function bringFont(file: File): Promise<string> {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('No project is open.')
  const bytes = new Uint8Array(await file.arrayBuffer())
  const worker = sheetService()
  const id = newId()
  // Read before it is kept: one that is broken leaves nothing behind.
  await worker.giveFont(`try ${id}`, [{ name: file.name, bytes: bytes.slice() }])
  const facts = await worker.fontFacts(`try ${id}`)
  await worker.dropFont(`try ${id}`)
  const fileId = newId()
  await storeFile(project.id, fileId, file.name, bytes)
  changeProject(`bring ${file.name}`, (draft) => {
    draft.fonts.push({
      id,
      name: facts?.family || file.name,
      fileId,
      licence: facts?.licence || facts?.copyright || '',
    })
  })
  return id
}
