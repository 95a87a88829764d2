import { z } from 'zod'
import { parseHex } from '../math/colour'
import { choiceParam, colourParam, mapParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Light along the edges that turn away, from the facing pass; with a side, on what faces that way alone, by the normal pass. */
export const rim = defineEffect({
  kind: 'rim',
  version: 1,
  label: 'Rim light',
  group: 'Light',
  summary: 'Light along the edges that turn away from the viewer.',
  schema: z.object({
    map: mapParam({ label: 'Facing', pass: 'facing' }),
    colour: colourParam({ label: 'Light', default: '#ffdcae' }),
    amount: numberParam({ label: 'Amount', min: 0, max: 2, step: 0.02, default: 0.8 }),
    narrow: numberParam({ label: 'Narrowness', min: 0.5, max: 12, step: 0.1, default: 3, logarithmic: true }),
    side: choiceParam({
      label: 'From',
      options: { all: 'All around', angle: 'One side' },
      default: 'all',
    }),
    on: choiceParam({
      label: 'On',
      options: { subject: 'The subject', all: 'Everything' },
      default: 'subject',
    }),
    angleDeg: numberParam({ label: 'Side', unit: '°', min: -180, max: 180, step: 1, default: -45 }),
  }),
  neutral: { amount: 0 },
  work({ map, colour, amount, narrow, side, on, angleDeg }) {
    const [r, g, b] = parseHex(colour)
    const light = [r, g, b]
    const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)]
    const sides = side === 'angle'
    return {
      by: 'point',
      maps: [
        { from: 'shot', map: 'facing', id: map },
        { from: 'roles', roles: on === 'all' ? [] : ['subject'] },
        ...(sides
          ? ([
              { from: 'shot', map: 'normalX', id: '' },
              { from: 'shot', map: 'normalY', id: '' },
            ] as const)
          : []),
      ],
      change(rgba, { maps }) {
        const facing = maps[0]
        if (Number.isNaN(facing)) return
        let own = amount * (1 - Math.min(1, Math.max(0, facing))) ** narrow
        // Without an ID pass there is no subject to tell from the rest.
        if (on === 'subject' && !Number.isNaN(maps[1])) own *= maps[1]
        // Angles go clockwise on the sheet, normals point up.
        if (sides && !Number.isNaN(maps[2])) own *= Math.max(0, maps[2] * cos - maps[3] * sin)
        for (let c = 0; c < 3; c++) rgba[c] += Math.min(1, own * light[c]) * (1 - rgba[c])
      },
      fast(kernel, { blocks, count, weights, maps: [facing, subject, nx = 0, ny = 0] }) {
        if (facing === 0) return
        kernel.weighByTurn(weights, facing, count, narrow, amount)
        if (on === 'subject' && subject !== 0) kernel.weighByNumbers(weights, subject, count)
        if (nx !== 0 && ny !== 0) kernel.weighBySide(weights, nx, ny, count, cos, sin)
        kernel.screenTowards(blocks, weights, count, r, g, b)
      },
    }
  },
})
