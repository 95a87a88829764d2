import { z } from 'zod'
import { hexOr, loose, numberOr, only, within } from './common'

export const version3 = z.looseObject({
  version: z.literal(3),
  passes: z.array(z.looseObject({ id: z.string(), kind: z.string(), params: loose })),
  sheets: z.array(z.looseObject({ layers: z.array(z.looseObject({ opacity: z.number(), source: loose })) })),
})

const LINE_PASSES: readonly string[] = ['contour', 'wireframe']

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
export function fromVersion3(document: z.infer<typeof version3>): unknown {
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
