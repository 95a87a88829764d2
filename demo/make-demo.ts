import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import {
  FOG_BELL_MATERIALS,
  fogBell,
  HARBOUR_MATERIALS,
  OPEN_WATER_MATERIALS,
  openWater,
  tideKiosk,
} from './pell-harbour'
import { writeGlb, writeObjFiles } from './write-models'

/** Writes the models of the demo to `folder`: the quay with its kiosk, the water and land round it, and the fog bell. */
export async function makeModels(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true })
  for (const [name, parts, materials] of [
    ['tide-kiosk', tideKiosk(), HARBOUR_MATERIALS],
    ['open-water', openWater(), OPEN_WATER_MATERIALS],
    ['fog-bell', fogBell(), FOG_BELL_MATERIALS],
  ] as const) {
    const { obj, mtl } = writeObjFiles(parts, materials, `${name}.mtl`)
    await writeFile(path.join(folder, `${name}.obj`), obj)
    await writeFile(path.join(folder, `${name}.mtl`), mtl)
    await writeFile(path.join(folder, `${name}.glb`), await writeGlb(parts, materials))
  }
}
