import { z } from 'zod'
import { allMembers, loose, PASSES } from './common'

export const version2 = z.looseObject({
  version: z.literal(2),
  passes: z.array(
    z.looseObject({ id: z.string(), kind: z.string(), rendered: z.looseObject({}).nullable() }),
  ),
  sheets: z.array(z.looseObject({ layers: z.array(z.looseObject({ source: loose })) })),
})

/** Occlusion's live reach was one of four; now it is a percentage. */
const REACHES: Readonly<Record<string, number>> = { '1': 100, '2': 50, '4': 25, '8': 12.5 }

export function fromVersion2(document: z.infer<typeof version2>): unknown {
  const occlusion = new Set(document.passes.filter((p) => p.kind === 'occlusion').map((p) => p.id))
  return {
    ...document,
    version: 3,
    passes: document.passes.map((pass) => ({
      ...pass,
      name: PASSES[pass.kind]?.label ?? pass.kind,
      members: allMembers(),
      denoise: false,
      effort: { samples: PASSES[pass.kind]?.samples ?? 16, rays: PASSES[pass.kind]?.rays ?? 8 },
      // Wires were one channel and are several now: they are rendered anew.
      rendered:
        pass.kind === 'wireframe' || !pass.rendered
          ? null
          : { ...pass.rendered, facts: {}, members: allMembers(), denoised: false },
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
