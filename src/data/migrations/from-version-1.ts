import { z } from 'zod'
import { hashJson } from '@/core/math/stable-hash'
import { hexOr, loose, numberOr, only } from './common'

export const version1 = z.looseObject({
  version: z.literal(1),
  models: z.array(
    z.looseObject({
      entry: z.string(),
      files: z.array(z.unknown()),
      placement: z.object({ position: z.unknown(), turnDeg: z.number(), scale: z.number() }),
      parts: z.array(z.looseObject({})),
      materials: z.array(z.looseObject({ baseColour: z.unknown() })),
    }),
  ),
  shots: z.array(z.looseObject({ id: z.string() })).min(1),
  passes: z.array(
    z.looseObject({ kind: z.string(), params: loose, rendered: z.looseObject({ params: loose }).nullable() }),
  ),
  sheets: z.array(z.looseObject({ layers: z.array(z.looseObject({ source: loose })) })),
})

/** Clay's light was a part of the pass: one key and a dome, set half in the render and half in the look. */
function rigFrom(params: Record<string, unknown>, look: Record<string, unknown>) {
  const common = { on: true, tied: 'camera', shadow: true, lights: null, throws: null }
  const sun = {
    ...common,
    id: 'key',
    name: 'Key',
    kind: 'sun',
    colour: { by: 'colour', hex: hexOr(look.keyColour, '#fff3e0') },
    strength: numberOr(look.key, 0.95),
    azimuthDeg: numberOr(params.keyAzimuthDeg, -42),
    elevationDeg: numberOr(params.keyElevationDeg, 38),
    sizeDeg: numberOr(params.keySizeDeg, 9),
  }
  const dome = {
    ...common,
    id: 'sky',
    name: 'Sky',
    kind: 'dome',
    colour: { by: 'colour', hex: hexOr(look.above, '#dfe8f2') },
    below: hexOr(look.below, '#c9b49c'),
    strength: numberOr(look.dome, 0.55),
    look: 'gradient',
    pictureId: null,
    rotationDeg: 0,
  }
  return { id: 'rig-1', name: 'Key and sky', sun, dome }
}
type OldRig = ReturnType<typeof rigFrom>

/** Linear light of a display colour, IEC 61966-2-1. */
const linear = (hex: string): number[] =>
  [1, 3, 5].map((at) => {
    const v = parseInt(hex.slice(at, at + 2), 16) / 255
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4
  })

/** What a pass kept of the lights it was rendered under. */
function renderedLights({ sun, dome }: OldRig) {
  const times = (colour: number[], strength: number) => colour.map((v) => v * strength)
  const { id: _a, name: _b, on: _c, colour: _d, strength: _e, ...sunShape } = sun
  const { tied: _f, shadow, lights, throws, kind } = dome
  return [
    {
      id: sun.id,
      name: sun.name,
      planes: 'light',
      colour: times(linear(sun.colour.hex), sun.strength),
      below: times(linear(sun.colour.hex), sun.strength),
      shape: hashJson(sunShape),
    },
    {
      id: dome.id,
      name: dome.name,
      planes: 'dome',
      colour: times(linear(dome.colour.hex), dome.strength),
      below: times(linear(dome.below), dome.strength),
      shape: hashJson({ tied: 'world', shadow, lights, throws, kind }),
    },
  ]
}

export function fromVersion1(document: z.infer<typeof version1>): unknown {
  const clay = document.passes.find((pass) => pass.kind === 'clay')
  const clayLayer = document.sheets
    .flatMap((sheet) => sheet.layers)
    .find((layer) => layer.source.type === 'pass' && layer.source.passId === clay?.id)
  const look = loose.safeParse(clayLayer?.source.look)
  const rig = rigFrom(clay?.params ?? {}, look.success ? look.data : {})
  const [shot] = document.shots
  return {
    ...document,
    version: 2,
    groups: [],
    palettes: [],
    schemes: [],
    schemeId: null,
    references: [],
    rigs: [{ id: rig.id, name: rig.name, lights: [rig.sun, rig.dome] }],
    shotId: shot.id,
    models: document.models.map(({ entry, files, placement, ...model }) => ({
      ...model,
      source: { type: 'file', entry, files },
      repairs: [],
      copies: { kind: 'one' },
      cameras: [],
      placement: {
        position: placement.position,
        rotationDeg: [0, placement.turnDeg, 0],
        scale: [placement.scale, placement.scale, placement.scale],
      },
      parts: model.parts.map((part) => ({ ...part, groupId: null })),
      materials: model.materials.map((material) => ({
        ...material,
        fileColour: material.baseColour,
        roughness: 0.6,
        highlight: 0.3,
        opacity: 1,
        emission: [0, 0, 0],
        texture: null,
        textureBrightness: 1,
      })),
    })),
    shots: document.shots.map((s) => ({
      ...s,
      dpi: 300,
      margin: 0.05,
      rigId: rig.id,
      guides: [],
      views: [],
      moves: [],
    })),
    passes: document.passes.map((pass) => {
      const isClay = pass.kind === 'clay'
      const params = (values: Record<string, unknown>) => (isClay ? only(values, ['roughness']) : values)
      const rendered = pass.rendered && {
        ...pass.rendered,
        params: params(pass.rendered.params),
        // The channels are the same two pairs; what they were rendered with tells whether they still serve.
        lights: isClay ? renderedLights(rigFrom(pass.rendered.params, look.success ? look.data : {})) : [],
      }
      return { ...pass, shotId: shot.id, params: params(pass.params), rendered }
    }),
    sheets: document.sheets.map((sheet) => ({
      ...sheet,
      shotId: shot.id,
      layers: sheet.layers.map((layer) => {
        const { source } = layer
        if (source.type !== 'pass' || source.passId !== clay?.id) return layer
        const own = loose.safeParse(source.look)
        return {
          ...layer,
          source: { ...source, look: only(own.success ? own.data : {}, ['colour', 'sheen', 'exposure']) },
        }
      }),
    })),
  }
}
