import { z } from 'zod'
import { loose, numberOr } from './common'

const mask5 = z.looseObject({
  terms: z.array(z.looseObject({ join: z.string(), by: z.string(), keys: z.array(z.string()) })),
  picture: z.string().nullable().default(null),
  invert: z.boolean(),
  featherPx: z.number(),
})
const layer5 = z.looseObject({
  id: z.string(),
  source: loose,
  mask: mask5.nullable(),
  effects: z.array(loose),
})
export const version5 = z.looseObject({
  version: z.literal(5),
  shots: z.array(z.looseObject({ id: z.string() })),
  sheets: z.array(
    z.looseObject({
      id: z.string(),
      shotId: z.string(),
      width: z.number(),
      height: z.number(),
      layers: z.array(layer5),
    }),
  ),
})

/** The ends of a gradient at an angle that reached a sheet's corners, in shares of the sheet. */
function across(angleDeg: number, width: number, height: number) {
  const angle = (angleDeg * Math.PI) / 180
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  const half = (Math.abs(width * dx) + Math.abs(height * dy)) / 2
  const at = (side: number) => [0.5 + (side * half * dx) / width, 0.5 + (side * half * dy) / height]
  return { from: at(-1), to: at(1) }
}

function contentOf(source: Record<string, unknown>, width: number, height: number): Record<string, unknown> {
  switch (source.type) {
    case 'pass':
      return {
        kind: 'pass',
        version: 1,
        passId: source.passId,
        look: source.look,
        ...(source.byHand !== undefined && { byHand: source.byHand }),
      }
    case 'fill': {
      const isGradient = typeof source.to === 'string'
      return {
        kind: 'fill',
        version: 1,
        shape: isGradient ? 'linear' : 'even',
        stops: isGradient
          ? [
              { at: 0, colour: source.colour },
              { at: 1, colour: source.to },
            ]
          : [{ at: 0, colour: source.colour }],
        ...across(numberOr(source.angleDeg, 90), width, height),
      }
    }
    case 'picture':
      return {
        kind: 'picture',
        version: 1,
        pictureId: source.pictureId,
        centre: [0.5, 0.5],
        size: [1, 1],
        turnDeg: 0,
      }
    default:
      return { kind: String(source.type), version: 1, ...source }
  }
}

const plainTerm = { version: 1, enabled: true, invert: false, featherPx: 0, strength: 1 }

/** A mask was terms of parts and materials, times a picture. */
function maskOf({ terms, picture, invert, featherPx }: z.infer<typeof mask5>) {
  const own: Record<string, unknown>[] = terms.map(({ join, by, keys }) => ({
    ...plainTerm,
    kind: by === 'material' ? 'materials' : 'parts',
    join,
    keys,
  }))
  if (picture !== null)
    own.push({
      ...plainTerm,
      kind: 'picture',
      join: terms.length > 0 ? 'intersect' : 'add',
      pictureId: picture,
    })
  return { terms: own, invert, featherPx }
}

/**
 * Layers were a flat list; now they are a tree of nodes by id, gradients have ends and any number of colours, and a shot may have
 * several sheets.
 */
export const fromVersion5 = (document: z.infer<typeof version5>): unknown => ({
  ...document,
  version: 6,
  shots: document.shots.map((shot) => ({
    ...shot,
    sheetId: document.sheets.find(({ shotId }) => shotId === shot.id)?.id ?? '',
  })),
  sheets: document.sheets.map(({ layers, ...sheet }) => ({
    ...sheet,
    roots: layers.map(({ id }) => id),
    nodes: Object.fromEntries(
      layers.map(({ source, mask, effects, ...layer }) => [
        layer.id,
        {
          ...layer,
          gate: null,
          mask: mask && maskOf(mask),
          effects: effects.map((effect) => ({ ...effect, version: 1, opacity: 1, mask: null })),
          content: contentOf(source, sheet.width, sheet.height),
        },
      ]),
    ),
  })),
})
