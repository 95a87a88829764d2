import { z } from 'zod'
import { choiceParam, numberParam } from '../params'
import { linearToSrgbFast, srgbToLinear } from '../math/colour'
import { POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { sceneSurfaces } from './id'
import { MaterialLook } from './material-look'
import { idleWhere } from './idle-params'
import { definePass } from './pass-kind'
import { SEEN_ONLY_EFFORTS } from './effort'
import { glassPanes } from './glass-panes'
import { PixelSurfaces } from './pixel-surfaces'
import { shadePoints } from './shade-points'

/** Surfaces told apart in one pixel. */
const PAIRS = 4

/**
 * Base colours without light. Kept are the surfaces that cover each pixel, with their shares, and what textures make of
 * their colours: the colours themselves are those the materials have now, so a palette can be changed without rays.
 */
export const flat = definePass({
  kind: 'flat',
  label: 'Flat',
  summary: 'Base colours and textures without light: the fill under the drawing.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    textures: numberParam({ label: 'Textures', min: 0, max: 1, step: 0.01, default: 1 }),
    edges: choiceParam({ label: 'Edges', options: { smooth: 'Smooth', hard: 'Hard' }, default: 'smooth' }),
  }),
  channels: [
    ...Array.from({ length: PAIRS }, (_, k) => ({ name: `id${k}`, format: 'uint16' as const })),
    ...Array.from({ length: PAIRS }, (_, k) => ({ name: `w${k}`, format: 'unorm8' as const })),
    { name: 'R', format: 'half' },
    { name: 'G', format: 'half' },
    { name: 'B', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  reads: ['transparency', 'texture'],
  efforts: SEEN_ONLY_EFFORTS,
  layer: { mode: 'normal', opacity: 1 },

  idleLook: (_look, { scene }) =>
    idleWhere([!scene.hasTextures, ['textures'], 'No material shows a picture']),

  createRenderer(context) {
    const { scene } = context
    const { ofSlot } = sceneSurfaces(scene)
    const material = new MaterialLook(scene)
    const { keeps, behind } = glassPanes(context)
    return (tileContext) => {
      const { tile } = tileContext
      const pixels = tile.width * tile.height
      const met = new PixelSurfaces(pixels)
      const planes = shadePoints(tileContext, 3, (block, [r, g, b]) => {
        const add = ({ count, floats, ints, doubles }: PointBlock, isFirst: boolean) => {
          for (let i = 0; i < count; i++) {
            const at = POINT_NUMBERS * i
            const corners = at / 2 + POINT.weights
            material.load(ints[at + POINT.triangle], doubles[corners], doubles[corners + 1])
            const pixel = ints[at + POINT.pixel]
            const share = floats[at + POINT.share] * (isFirst ? keeps(material.material) : 1)
            met.add(pixel, ofSlot[ints[at + POINT.slot]], share)
            r[pixel] += share * material.textureR
            g[pixel] += share * material.textureG
            b[pixel] += share * material.textureB
          }
        }
        add(block, true)
        behind(block, (panes) => add(panes, false))
      })
      return [...met.ranked(PAIRS), ...planes]
    }
  },

  look({ count, planes, surfaces }, params, out) {
    const colours = surfaces.map(({ baseColour }) => baseColour)
    const linear = surfaces.map(({ baseColour }) => baseColour.map(srgbToLinear))
    const texture = planes.slice(2 * PAIRS, 2 * PAIRS + 3)
    const alpha = planes[2 * PAIRS + 3]
    const hard = params.edges === 'hard'
    for (let i = 0; i < count; i++) {
      let total = 0
      const o = 4 * i
      out[o] = out[o + 1] = out[o + 2] = 0
      for (let k = 0; k < (hard ? 1 : PAIRS); k++) {
        const weight = planes[PAIRS + k][i]
        const id = planes[k][i]
        if (weight === 0 || id >= colours.length) continue
        total += weight
        for (let c = 0; c < 3; c++) {
          const factor = 1 + (texture[c][i] - 1) * params.textures
          // Without a texture the colour goes through untouched.
          out[o + c] +=
            weight *
            (Math.abs(factor - 1) < 1e-3
              ? colours[id][c]
              : linearToSrgbFast(Math.min(1, linear[id][c] * factor)))
        }
      }
      for (let c = 0; c < 3; c++) out[o + c] = total > 0 ? out[o + c] / total : 0
      out[o + 3] = hard ? (alpha[i] >= 0.5 ? 1 : 0) : alpha[i]
    }
  },
})
