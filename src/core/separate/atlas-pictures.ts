import { readPng, writePng } from '../formats/png'
import { checkFits, packAtlas, type AtlasItem, type AtlasManifest, type AtlasSetting } from './atlas'
import type { PackedPicture } from './separation-desk'
import type { SeparationManifest } from './separation-manifest'

/** What a picture of a set shows. */
export type SetPicture = 'picture' | 'shadow' | 'reflection'

/** A set whose pictures are to be packed. */
export interface AtlasSet extends Readonly<Record<SetPicture, PackedPicture | null>> {
  readonly name: string
  /** Its place from the front. */
  readonly order: number
}

export const pageFile = (number: number): string => `atlas_${number}.png`

/** Collects pictures of sets as they are done, and packs them when all are there. */
export class AtlasPictures {
  private readonly items: (AtlasItem & { readonly order: number; readonly what: SetPicture })[] = []

  constructor(private readonly setting: AtlasSetting) {}

  /** Takes what a set has. @throws {InvalidValueError} naming a set that no page can hold: at once, before others are rendered. */
  take({ name, order, ...pictures }: AtlasSet): void {
    for (const what of ['picture', 'shadow', 'reflection'] as const) {
      const picture = pictures[what]
      if (!picture) continue
      const { width, height } = picture
      checkFits({ name, width, height }, this.setting)
      const decoded = readPng(picture.file, what)
      const pixels = Uint8Array.from(decoded.pixels, (value) => Math.round(255 * value))
      this.items.push({ name, width, height, pixels, order, what })
    }
  }

  /**
   * Packs all that was taken.
   * @param scale see {@link AtlasManifest}.
   * @param write is given page after page.
   */
  async pack(
    { sets, size }: SeparationManifest,
    scale: number,
    write: (name: string, file: Uint8Array<ArrayBuffer>) => Promise<void>,
  ): Promise<AtlasManifest> {
    const setOf = new Map(sets.map((set) => [set.order, set]))
    const { pages, places } = packAtlas(this.items, this.setting)
    for (const [i, { width, height, pixels }] of pages.entries())
      await write(pageFile(i + 1), new Uint8Array(writePng(width, height, pixels)))
    const pictures = this.items.flatMap(
      ({ name, order, what, width, height }, i): AtlasManifest['pictures'] => {
        const set = setOf.get(order)
        const at = what === 'picture' ? set : what === 'shadow' ? set?.shadowAt : set?.reflectionAt
        if (!set || !at) return []
        return [
          {
            name,
            shows: what === 'picture' ? 'set' : what,
            ...places[i],
            width,
            height,
            at: { x: at.x, y: at.y },
            pivot: set.pivot,
            order,
            depth: set.depth,
          },
        ]
      },
    )
    return {
      size,
      scale,
      pages: pages.map(({ width, height }, i) => ({ file: pageFile(i + 1), width, height })),
      pictures: pictures.sort((a, b) => a.order - b.order),
    }
  }
}

/** The manifest of sets whose pictures lie on pages: it names these. */
export function onPages(told: SeparationManifest, { pages, pictures }: AtlasManifest): SeparationManifest {
  const pageOf = (order: number, shows: AtlasManifest['pictures'][number]['shows']) => {
    const found = pictures.find((own) => own.order === order && own.shows === shows)
    return found ? pages[found.page].file : null
  }
  return {
    ...told,
    sets: told.sets.map((set) => ({
      ...set,
      file: pageOf(set.order, 'set') ?? set.file,
      shadow: pageOf(set.order, 'shadow'),
      reflection: pageOf(set.order, 'reflection'),
    })),
  }
}
