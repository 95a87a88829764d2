import { z } from 'zod'
import { COOLEST_KELVIN, HOTTEST_KELVIN } from '../math/black-body'

/**
 * Light rigs: named sets of lights. Directions and distances are relative to the subject (its middle, and its diagonal
 * D), so that a rig fits whatever is put under it.
 */

const hex = z.string().regex(/^#[0-9a-f]{6}$/i, 'must look like #rrggbb')
const share = z.number().min(0).max(1)

/** A display colour, or the colour of a black body. */
export const lightColourSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('colour'), hex }),
  z.object({ by: z.literal('kelvin'), kelvin: z.number().min(COOLEST_KELVIN).max(HOTTEST_KELVIN) }),
])
export type LightColour = z.infer<typeof lightColourSchema>

/** Where a light stands, seen from the middle of the subject. */
const standing = {
  /**
   * Degrees round the vertical. Tied to the camera: 0 is from behind the camera, 90 from its right. Tied to the world: 0
   * is from +Z, 90 from +X.
   */
  azimuthDeg: z.number().min(-180).max(180),
  /** Degrees above the horizon. */
  elevationDeg: z.number().min(-90).max(90),
}
const near = {
  ...standing,
  /** From the point it is aimed at, in D. */
  distanceD: z.number().min(0.05).max(20),
  /** The point it is aimed at, from the middle of the subject, in D along the world's axes. */
  aimD: z.tuple([z.number(), z.number(), z.number()]),
}

const common = {
  id: z.string(),
  name: z.string(),
  on: z.boolean(),
  tied: z.enum(['camera', 'world']),
  colour: lightColourSchema,
  /** 1 lights a white surface that faces it to full white, at the point it is aimed at. */
  strength: z.number().min(0).max(100),
  shadow: z.boolean(),
  /** Keys of the parts it lights; null lights all. */
  lights: z.array(z.string()).nullable(),
  /** Keys of the parts that throw its shadow; null is all. */
  throws: z.array(z.string()).nullable(),
}

export const lightSchema = z.discriminatedUnion('kind', [
  z.object({
    ...common,
    kind: z.literal('sun'),
    ...standing,
    /** Degrees it spans in the sky; the sun itself spans about half a degree. */
    sizeDeg: z.number().min(0).max(90),
  }),
  z.object({
    ...common,
    kind: z.literal('area'),
    ...near,
    shape: z.enum(['round', 'rectangle']),
    widthD: z.number().min(0.001).max(10),
    heightD: z.number().min(0.001).max(10),
  }),
  z.object({ ...common, kind: z.literal('point'), ...near, radiusD: z.number().min(0).max(2) }),
  z.object({
    ...common,
    kind: z.literal('spot'),
    ...near,
    radiusD: z.number().min(0).max(2),
    /** Degrees across the cone. */
    coneDeg: z.number().min(1).max(170),
    /** Share of the cone over which it fades at its rim. */
    edge: share,
  }),
  z.object({
    ...common,
    kind: z.literal('dome'),
    look: z.enum(['one', 'gradient', 'picture']),
    /** Light from below, for a gradient; `colour` is what comes from above. */
    below: hex,
    /** A picture of the surroundings, latitude and longitude; its file's id. */
    pictureId: z.string().nullable(),
    rotationDeg: z.number().min(-180).max(180),
  }),
])
export type Light = z.infer<typeof lightSchema>
export type LightKind = Light['kind']
export type LightOf<K extends LightKind> = Extract<Light, { kind: K }>

export const LIGHT_KINDS = ['sun', 'area', 'point', 'spot', 'dome'] as const satisfies readonly LightKind[]
export const lightKindLabels: Readonly<Record<LightKind, string>> = {
  sun: 'Sun',
  area: 'Area',
  point: 'Point',
  spot: 'Spot',
  dome: 'Dome',
}

/** Most lights a rig may hold: each is up to three channels of a pass. */
export const MOST_LIGHTS = 16

export const rigSchema = z.object({
  id: z.string(),
  name: z.string(),
  lights: z.array(lightSchema).max(MOST_LIGHTS),
})
export type Rig = z.infer<typeof rigSchema>

/** What a light of a kind starts out as. */
export function newLight<K extends LightKind>(
  kind: K,
  id: string,
  patch: Partial<LightOf<K>> = {},
): LightOf<K> {
  const base = {
    id,
    name: lightKindLabels[kind],
    on: true,
    tied: 'camera' as const,
    colour: { by: 'colour' as const, hex: '#ffffff' },
    strength: 1,
    shadow: true,
    lights: null,
    throws: null,
  }
  const from = { azimuthDeg: -40, elevationDeg: 40 }
  const nearby = { ...from, distanceD: 1.5, aimD: [0, 0, 0] as [number, number, number] }
  const kinds: { readonly [P in LightKind]: LightOf<P> } = {
    sun: { ...base, kind: 'sun', ...from, sizeDeg: 2 },
    area: { ...base, kind: 'area', ...nearby, shape: 'round', widthD: 0.5, heightD: 0.5 },
    point: { ...base, kind: 'point', ...nearby, radiusD: 0.02 },
    spot: { ...base, kind: 'spot', ...nearby, radiusD: 0.02, coneDeg: 40, edge: 0.2 },
    dome: { ...base, kind: 'dome', look: 'gradient', below: '#c9b49c', pictureId: null, rotationDeg: 0 },
  }
  return { ...kinds[kind], ...patch }
}
