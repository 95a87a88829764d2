import path from 'node:path'
import { ATLAS_MANIFEST, type AtlasSetting } from '@/core/separate/atlas'
import { AtlasPictures, onPages } from '@/core/separate/atlas-pictures'
import type { SeparationManifest } from '@/core/separate/separation-manifest'
import type { SeparatedSet } from '@/engine/render-separations'
import { refuseExisting, writeWhole } from './write-file'

/** Pages of an atlas in a folder, and what tells where pictures lie on them. */
export class AtlasFolder {
  private readonly pictures: AtlasPictures

  constructor(
    private readonly folder: string,
    setting: AtlasSetting,
    private readonly overwrite: boolean,
  ) {
    this.pictures = new AtlasPictures(setting)
  }

  take(name: string, done: SeparatedSet): void {
    this.pictures.take({ ...done, name })
  }

  /** Writes pages and what tells of them. @returns the manifest of the sets, which names pages instead of pictures. */
  async finish(told: SeparationManifest, scale: number): Promise<SeparationManifest> {
    const at = (name: string) => path.join(this.folder, name)
    const pages = new Map<string, Uint8Array>()
    const manifest = await this.pictures.pack(told, scale, (name, file) => {
      pages.set(name, file)
      return Promise.resolve()
    })
    // How many there are is known only now: none is written where one is in the way.
    for (const name of pages.keys()) await refuseExisting(at(name), this.overwrite)
    for (const [name, file] of pages) await writeWhole(at(name), file)
    await writeWhole(at(ATLAS_MANIFEST), JSON.stringify(manifest, null, 2) + '\n')
    return onPages(told, manifest)
  }
}
