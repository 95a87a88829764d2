import { z } from 'zod'
import type { Frame } from '../scene/camera'
import type { PixelBox } from './recombine'
import type { SetOrder } from './separation-desk'
import type { ScenePart } from '../scene/scene-geometry'
import type { PartSet, SeparatePass, Separation } from './separations'

/** What a folder of separate pictures tells of itself. */
export const SEPARATION_MANIFEST = 'manifest.json'

const box = {
  /** Where the picture lies in the frame, in pixels from its top left. */
  x: z.number().int(),
  y: z.number().int(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
}
export const pivotSchema = z.object({ x: z.number(), y: z.number() })
/** A rectangle of pixels, from the top left of the frame. */
export const pixelBoxSchema = z.object(box)

export const separationManifestSchema = z.object({
  /** From the front to the back. */
  sets: z.array(
    z.object({
      name: z.string(),
      /** Names of its parts. */
      parts: z.array(z.string()),
      file: z.string(),
      /** The shadow that it alone throws on the others; null where none was asked for. */
      shadow: z.string().nullable(),
      /** 0 is the frontmost. */
      order: z.number().int(),
      /** Mean distance along the view, in world units; null where it is nowhere seen. */
      depth: z.number().nullable(),
      ...box,
      /** What it turns about: the middle of its parts as the camera sees it, in pixels of the frame; null where it is nowhere seen. */
      pivot: pivotSchema.nullable().default(null),
      shadowAt: pixelBoxSchema.nullable(),
      /** What the ground mirrors of it; null where it was not asked for. */
      reflection: z.string().nullable(),
      reflectionAt: pixelBoxSchema.nullable(),
      /** What lies behind it in the order and hides it somewhere: that is cut out of it. */
      cutBy: z.array(z.string()),
    }),
  ),
  size: z.object({ width: z.number().int(), height: z.number().int() }),
  /** Mean over pixels and channels of how far the sets put together are from all rendered at once, 0…1. */
  difference: z.number(),
  /** `whole`: laid under each other from the front; `seen`: added. */
  how: z.enum(['whole', 'seen']),
  pass: z.string(),
  /** Names of sets that hide each other in a ring. */
  cycles: z.array(z.array(z.string())),
})
/** @see separationManifestSchema */
export type SeparationManifest = z.infer<typeof separationManifestSchema>

/** Files of a set, named before anything is rendered. */
export interface SetFiles {
  readonly picture: string
  readonly shadow: string | null
  readonly reflection: string | null
}

/** What comes along with sets. */
export interface AlongSets {
  readonly shadows: boolean
  readonly reflections: boolean
}

/** Files of sets by names that may be alike, each once: on some systems large and small letters are the same. */
export function setFiles(names: readonly string[], { shadows, reflections }: AlongSets): SetFiles[] {
  const taken = new Set<string>([SEPARATION_MANIFEST.replace(/\.json$/, '')])
  return names.map((name) => {
    for (let number = 1; ; number++) {
      const own = number === 1 ? name : `${name}_${number}`
      const keys = [own, `${own}_shadow`, `${own}_reflection`].map((key) => key.toLowerCase())
      if (keys.some((key) => taken.has(key))) continue
      for (const key of keys) taken.add(key)
      return {
        picture: `${own}.png`,
        shadow: shadows ? `${own}_shadow.png` : null,
        reflection: reflections ? `${own}_reflection.png` : null,
      }
    }
  })
}

/** A set that is done. */
export interface DoneSet {
  readonly index: number
  readonly order: number
  /** Where its pictures lie. */
  readonly picture: PixelBox
  readonly shadow: PixelBox | null
  readonly reflection: PixelBox | null
}

/** What is known when all sets are done. */
export interface SeparationReport {
  readonly set: SetOrder
  /** Of each set, in the order in which they were given; see `setPivot`. */
  readonly pivots: readonly (z.infer<typeof pivotSchema> | null)[]
  /** From the front to the back. */
  readonly done: readonly DoneSet[]
  /** See {@link separationManifestSchema}. */
  readonly difference: number
}

/** What was asked for, as far as it is told of. */
export interface Separated {
  readonly sets: readonly PartSet[]
  /** All parts of the scene. */
  readonly parts: readonly Pick<ScenePart, 'key' | 'name'>[]
  readonly frame: Frame
  readonly how: Separation
  readonly pass: Pick<SeparatePass, 'kind'>
}

const boxOf = ({ x, y, width, height }: PixelBox) => ({ x, y, width, height })

/** What is told of sets that are done. */
export function separationManifest(
  { sets, parts, frame, how, pass }: Separated,
  files: readonly SetFiles[],
  { set: { front, depths }, pivots, done, difference }: SeparationReport,
): SeparationManifest {
  const names = (list: readonly number[]) => list.map((k) => sets[k].name)
  const partNames = new Map(parts.map(({ key, name }) => [key, name]))
  return {
    sets: done.map(({ index, order, picture, shadow, reflection }) => ({
      name: sets[index].name,
      parts: sets[index].parts.flatMap((key) => partNames.get(key) ?? []),
      file: files[index].picture,
      shadow: files[index].shadow,
      order,
      depth: Number.isFinite(depths[index]) ? depths[index] : null,
      ...boxOf(picture),
      pivot: pivots[index],
      shadowAt: shadow && boxOf(shadow),
      reflection: files[index].reflection,
      reflectionAt: reflection && boxOf(reflection),
      cutBy: names(front.cuts[index]),
    })),
    size: { width: frame.width, height: frame.height },
    difference,
    how,
    pass: pass.kind,
    cycles: front.cycles.map(names),
  }
}
