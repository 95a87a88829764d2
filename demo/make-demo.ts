import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { HARBOUR_MATERIALS, pellHarbour } from './pell-harbour'
import { writeGlb, writeObjFiles } from './write-models'

/** Writes the models of the demo to `folder`. */
export async function makeModels(folder: string): Promise<void> {
  const parts = pellHarbour()
  const { obj, mtl } = writeObjFiles(parts, HARBOUR_MATERIALS, 'tide-kiosk.mtl')
  await mkdir(folder, { recursive: true })
  await writeFile(path.join(folder, 'tide-kiosk.obj'), obj)
  await writeFile(path.join(folder, 'tide-kiosk.mtl'), mtl)
  await writeFile(path.join(folder, 'tide-kiosk.glb'), await writeGlb(parts, HARBOUR_MATERIALS))
}
