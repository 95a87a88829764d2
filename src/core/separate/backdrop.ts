import { z } from 'zod'
import { writePng } from '../formats/png'
import type { ParamValues } from '../params'
import { passPicture } from '../passes/pass-picture'
import { namedChannels, type PassResult } from '../passes/pass-result'
import type { PassOrder } from '../passes/render-tile'
import { premultiplied } from '../picture/rgba-picture'
import { roleMask, SEEN_BY_CAMERA } from '../scene/part-role'
import type { ScenePart } from '../scene/scene-geometry'
import { meanDifference } from './recombine'
import type { SeparatePass } from './separations'

/**
 * The ground and what stands on it apart: the ground as if nothing stood there, the shadow of what does, what of the surroundings it
 * keeps away, what the ground mirrors of it, and it itself. Laid together they are the whole picture, so that each can be swapped.
 */
export const BACKDROP_PICTURES = ['ground', 'shadow', 'occlusion', 'reflection', 'subject'] as const
export type BackdropPicture = (typeof BACKDROP_PICTURES)[number]

/** How each is laid over those before it (W3C Compositing and Blending). */
export const BACKDROP_MODES: Readonly<Record<BackdropPicture, 'normal' | 'multiply' | 'plus-lighter'>> = {
  ground: 'normal',
  shadow: 'multiply',
  occlusion: 'multiply',
  reflection: 'plus-lighter',
  subject: 'normal',
}

export const BACKDROP_MANIFEST = 'backdrop.json'
export const backdropManifestSchema = z.object({
  size: z.object({ width: z.number().int(), height: z.number().int() }),
  /** From the back to the front. */
  pictures: z.array(
    z.object({
      shows: z.enum(BACKDROP_PICTURES),
      file: z.string(),
      mode: z.enum(['normal', 'multiply', 'plus-lighter']),
    }),
  ),
  /** Mean over pixels and channels of how far they, put together, are from the whole, 0…1. */
  difference: z.number(),
})
export type BackdropManifest = z.infer<typeof backdropManifestSchema>

/** What is rendered for it. */
export const BACKDROP_RENDERS = ['open', 'shaded', 'subject', 'whole'] as const
export type BackdropRender = (typeof BACKDROP_RENDERS)[number]

/**
 * Orders of what is rendered, of a lit pass. Null where nothing is the ground, or nothing stands on it.
 * `open`: the ground alone. `shaded`: the ground in the light that the rest leaves it, also where that hides it.
 */
export function backdropOrders(
  pass: SeparatePass,
  parts: readonly ScenePart[],
): Readonly<Record<BackdropRender, PassOrder>> | null {
  const seen = parts.filter(({ role }) => (roleMask(role) & SEEN_BY_CAMERA) !== 0)
  const ground = seen.filter(({ role }) => role === 'ground').map(({ key }) => key)
  const subject = seen.filter(({ role }) => role !== 'ground').map(({ key }) => key)
  if (ground.length === 0 || subject.length === 0) return null
  const own = new Set(ground)
  const rest = parts.filter(({ key }) => !own.has(key)).map(({ key }) => key)
  const members = { holdOut: undefined, lights: null }
  return {
    open: { ...pass, members: { ...members, parts: ground, others: 'look past', letThrough: rest } },
    shaded: { ...pass, members: { ...members, parts: ground, others: 'look past', letThrough: [] } },
    subject: { ...pass, members: { ...members, parts: subject, others: 'hold out', letThrough: [] } },
    whole: { ...pass, members: { ...members, parts: null, others: 'hold out', letThrough: [] } },
  }
}

/** The pictures, straight RGBA of 8 bits as files hold them, and how far they are from the whole. */
export interface BackdropPictures {
  readonly pictures: Readonly<Record<BackdropPicture, Uint8Array<ArrayBuffer>>>
  readonly difference: number
}

/** Less than files can tell. */
const HALF_STEP = 0.5 / 255
const byte = (value: number): number => Math.round(255 * Math.min(1, Math.max(0, value)))

/**
 * Takes the ground apart: light by light, what is kept away of those that come from somewhere is the shadow, of the surroundings the
 * occlusion; what is brighter in the end is mirrored.
 * @param renders results of {@link backdropOrders}, all of one size.
 */
export function backdropPictures(
  renders: Readonly<Record<BackdropRender, PassResult>>,
  look: ParamValues,
): BackdropPictures {
  const { open, shaded, subject, whole } = renders
  const { width, height } = whole
  const count = width * height
  const shown = (result: PassResult) => passPicture(result, look).pixels
  const ground = shown(open)
  const inShadow = shown(mixed(open, shaded, isDirect))
  const all = shown(shaded)
  const standing = shown(subject)
  const pictures = {
    ground: new Uint8Array(4 * count),
    shadow: new Uint8Array(4 * count),
    occlusion: new Uint8Array(4 * count),
    reflection: new Uint8Array(4 * count),
    subject: Uint8Array.from(standing, byte),
  }
  const sum = new Float32Array(4 * count)
  const front = premultiplied({ width, height, pixels: Float32Array.from(pictures.subject, (v) => v / 255) })
  for (let p = 0; p < count; p++) {
    const alpha = byte(ground[4 * p + 3])
    pictures.ground[4 * p + 3] = alpha
    const share = alpha / 255
    for (let c = 0; c < 3; c++) {
      const at = 4 * p + c
      const bare = byte(ground[at])
      pictures.ground[at] = bare
      // At its edge what lies behind the ground must not darken with it.
      const darker = (from: number, to: number) =>
        to >= from - HALF_STEP ? 255 : byte(1 - share * (1 - to / from))
      const shadow = darker(bare / 255, inShadow[at])
      pictures.shadow[at] = shadow
      const after = (bare / 255) * unshared(shadow, share)
      const occlusion = darker(after, Math.min(after, all[at]))
      pictures.occlusion[at] = occlusion
      const left = after * unshared(occlusion, share)
      const mirrored = byte(share * Math.max(0, all[at] - left))
      pictures.reflection[at] = mirrored
      sum[at] = front[at] + (1 - front[4 * p + 3]) * (share * left + mirrored / 255)
    }
    // What changes nothing is clear: it changes nothing on a clear sheet either.
    for (const name of ['shadow', 'occlusion'] as const)
      pictures[name][4 * p + 3] = pictures[name].subarray(4 * p, 4 * p + 3).every((v) => v === 255) ? 0 : 255
    straighten(pictures.reflection, p)
    sum[4 * p + 3] = front[4 * p + 3] + (1 - front[4 * p + 3]) * share
  }
  return { pictures, difference: meanDifference(sum, premultiplied(passPicture(whole, look))) }
}

/** Light that is added, as a colour and how much of it there is. In place. */
function straighten(pixels: Uint8Array, p: number): void {
  const most = Math.max(pixels[4 * p], pixels[4 * p + 1], pixels[4 * p + 2])
  pixels[4 * p + 3] = most
  for (let c = 0; most > 0 && c < 3; c++) pixels[4 * p + c] = Math.round((255 * pixels[4 * p + c]) / most)
}

/** What a factor does to the ground itself, where it was made weaker at an edge. */
const unshared = (factor: number, share: number): number =>
  share > 0 ? Math.max(0, 1 - (1 - factor / 255) / share) : 1

/** A result with some channels of another one. */
function mixed(
  base: PassResult,
  other: PassResult,
  isOther: (name: string, result: PassResult) => boolean,
): PassResult {
  const channels = namedChannels(base).map(({ name, data }, i) =>
    isOther(name, base) ? other.channels[i] : data,
  )
  return { ...base, channels }
}

/** Whether a channel is what a light from somewhere brings straight: diffuse or as a highlight. */
function isDirect(name: string, { lights }: PassResult): boolean {
  const match = /^[DH](\d+)/.exec(name)
  return match !== null && lights[Number(match[1])]?.planes === 'light'
}

export const backdropFile = (shows: BackdropPicture): string => `${shows}.png`

/** The pictures as files, and what tells of them. */
export function backdropFiles(
  { pictures, difference }: BackdropPictures,
  size: { readonly width: number; readonly height: number },
): { readonly files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>; readonly manifest: BackdropManifest } {
  const { width, height } = size
  return {
    files: new Map(
      BACKDROP_PICTURES.map((shows) => [
        backdropFile(shows),
        new Uint8Array(writePng(width, height, pictures[shows])),
      ]),
    ),
    manifest: {
      size: { width, height },
      pictures: BACKDROP_PICTURES.map((shows) => ({
        shows,
        file: backdropFile(shows),
        mode: BACKDROP_MODES[shows],
      })),
      difference,
    },
  }
}
