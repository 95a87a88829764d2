import { z } from 'zod'
import { PLAIN_MATERIAL } from '@/core/geometry/polygon-mesh'
import { newLight } from '@/core/scene/light-rig'
import type { Rig } from '@/core/scene/light-rig'
import { isPassKind, passKind } from '@/core/passes/registry'
import { ALL_MEMBERS } from '@/core/passes/render-tile'
import { renderedLights } from '@/core/scene/rendered-light'

/** Brings the documents of earlier versions up to this one's. What cannot be one is handed on for the schema to refuse. */

const numberOr = (value: unknown, fallback: number): number => (typeof value === 'number' ? value : fallback)
const hexOr = (value: unknown, fallback: string): string => (typeof value === 'string' ? value : fallback)
const loose = z.record(z.string(), z.unknown())

const version1 = z.looseObject({
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
function rigFrom(params: Record<string, unknown>, look: Record<string, unknown>): Rig {
  return {
    id: 'rig-1',
    name: 'Key and sky',
    lights: [
      newLight('sun', 'key', {
        name: 'Key',
        azimuthDeg: numberOr(params.keyAzimuthDeg, -42),
        elevationDeg: numberOr(params.keyElevationDeg, 38),
        sizeDeg: numberOr(params.keySizeDeg, 9),
        colour: { by: 'colour', hex: hexOr(look.keyColour, '#fff3e0') },
        strength: numberOr(look.key, 0.95),
      }),
      newLight('dome', 'sky', {
        name: 'Sky',
        colour: { by: 'colour', hex: hexOr(look.above, '#dfe8f2') },
        below: hexOr(look.below, '#c9b49c'),
        strength: numberOr(look.dome, 0.55),
      }),
    ],
  }
}

const only = (values: Record<string, unknown>, names: readonly string[]): Record<string, unknown> =>
  Object.fromEntries(Object.entries(values).filter(([name]) => names.includes(name)))

function fromVersion1(document: z.infer<typeof version1>): unknown {
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
    rigs: [rig],
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
        roughness: PLAIN_MATERIAL.roughness,
        highlight: PLAIN_MATERIAL.highlight,
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

const version2 = z.looseObject({
  version: z.literal(2),
  passes: z.array(
    z.looseObject({ id: z.string(), kind: z.string(), rendered: z.looseObject({}).nullable() }),
  ),
  sheets: z.array(z.looseObject({ layers: z.array(z.looseObject({ source: loose })) })),
})

/** Occlusion's live reach was one of four; now it is a percentage. */
const REACHES: Readonly<Record<string, number>> = { '1': 100, '2': 50, '4': 25, '8': 12.5 }

function fromVersion2(document: z.infer<typeof version2>): unknown {
  const occlusion = new Set(document.passes.filter((p) => p.kind === 'occlusion').map((p) => p.id))
  return {
    ...document,
    version: 3,
    passes: document.passes.map((pass) => ({
      ...pass,
      name: isPassKind(pass.kind) ? passKind(pass.kind).label : pass.kind,
      members: ALL_MEMBERS,
      denoise: false,
      effort: isPassKind(pass.kind) ? passKind(pass.kind).efforts.final : { samples: 16, rays: 8 },
      // Wires were one channel and are several now: they are rendered anew.
      rendered:
        pass.kind === 'wireframe' || !pass.rendered
          ? null
          : { ...pass.rendered, facts: {}, members: ALL_MEMBERS, denoised: false },
    })),
    sheets: document.sheets.map((sheet) => ({
      ...sheet,
      layers: sheet.layers.map((layer) => {
        const { source } = layer
        const look = loose.safeParse(source.look)
        if (!look.success || !occlusion.has(String(source.passId))) return layer
        const reach = REACHES[String(look.data.reach)]
        return reach === undefined
          ? layer
          : { ...layer, source: { ...source, look: { ...look.data, reach } } }
      }),
    })),
  }
}

const version3 = z.looseObject({
  version: z.literal(3),
  passes: z.array(z.looseObject({ id: z.string(), kind: z.string(), params: loose })),
  sheets: z.array(z.looseObject({ layers: z.array(z.looseObject({ opacity: z.number(), source: loose })) })),
})

const LINE_PASSES: readonly string[] = ['contour', 'wireframe']
const within = (value: number, low: number, high: number): number => Math.min(high, Math.max(low, value))

/** What a line pass was rendered with and looked like, as the style its vector lines are stroked in. */
function lineLook(params: Record<string, unknown>, look: Record<string, unknown>, isWire: boolean) {
  const heavier = numberOr(look.heavier, 1)
  return {
    colour: hexOr(look.colour, '#1c1815'),
    weight: within(numberOr(params.weight, isWire ? 0.9 : 1.8) * heavier, 0.2, 20),
    ...(isWire
      ? {
          ...only(look, ['fill', 'fillColour', 'bySides', 'triangles', 'quads', 'more']),
          bySpacing: numberOr(look.fade, 0.6),
        }
      : {
          ...(params.betweenParts === false && { part: 0 }),
          ...(params.creases === false && { crease: 0 }),
        }),
  }
}

/** Contours and wires were pictures of lines; now they are drawings, found anew, and their weight is a look. */
function fromVersion3(document: z.infer<typeof version3>): unknown {
  const lines = new Map(document.passes.filter((p) => LINE_PASSES.includes(p.kind)).map((p) => [p.id, p]))
  return {
    ...document,
    version: 4,
    passes: document.passes.map((pass) => {
      if (!lines.has(pass.id)) return pass
      const kept = pass.kind === 'contour' ? ['creaseDeg'] : ['seeThrough']
      return { ...pass, params: only(pass.params, kept), rendered: null }
    }),
    sheets: document.sheets.map((sheet) => ({
      ...sheet,
      layers: sheet.layers.map((layer) => {
        const pass = lines.get(String(layer.source.passId))
        if (!pass) return layer
        const known = loose.safeParse(layer.source.look)
        const look = known.success ? known.data : {}
        return {
          ...layer,
          opacity: within(layer.opacity * numberOr(look.strength, 1), 0, 1),
          source: { ...layer.source, look: lineLook(pass.params, look, pass.kind === 'wireframe') },
        }
      }),
    })),
  }
}

const version4 = z.looseObject({
  version: z.literal(4),
  models: z.array(z.looseObject({ parts: z.array(z.looseObject({})) })),
  sheets: z.array(z.looseObject({})),
})

/** Hiding a part took its role; a picture of another shape was stretched over its sheet. */
const fromVersion4 = (document: z.infer<typeof version4>): unknown => ({
  ...document,
  version: 5,
  models: document.models.map((model) => ({
    ...model,
    parts: model.parts.map((part) => ({ ...part, hidden: false })),
  })),
  sheets: document.sheets.map((sheet) => ({ ...sheet, fit: 'extend' })),
})

/** @param document a project document of any version, as it was stored. */
export function migrateProject(document: unknown): unknown {
  let now = document
  const step = <T>(schema: z.ZodType<T>, upgrade: (old: T) => unknown) => {
    const parsed = schema.safeParse(now)
    if (parsed.success) now = upgrade(parsed.data)
  }
  step(version1, fromVersion1)
  step(version2, fromVersion2)
  step(version3, fromVersion3)
  step(version4, fromVersion4)
  return now
}
