import { z } from 'zod'
import { tableOfPicture, throughTable, type GradingTable } from '../formats/cube-table'
import { numberParam, tableParam } from '../params'
import type { RgbaPicture } from '../picture/rgba-picture'
import { defineEffect } from './effect-kind'
import { ownTable } from './own-tables'

const ofPictures = new WeakMap<RgbaPicture, GradingTable | null>()
/** The table of a file that is kept among the pictures. */
function tableFrom(picture: RgbaPicture | null): GradingTable | null {
  if (!picture) return null
  const known = ofPictures.get(picture)
  if (known !== undefined) return known
  const table = tableOfPicture(picture)
  ofPictures.set(picture, table)
  return table
}

/** Colours by a table: one of our own, or a `.cube` file. */
export const gradingTable = defineEffect({
  kind: 'gradingTable',
  version: 1,
  label: 'Grading table',
  group: 'Colour',
  summary: 'A whole grading from a table: one of twelve, or a .cube file.',
  schema: z.object({
    table: tableParam({ label: 'Table', default: 'lateSun' }),
    strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  neutral: { strength: 0 },
  work({ table: name, strength }) {
    const own = ownTable(name)
    return {
      by: 'colour',
      pictures: own ? [] : [name],
      change(rgb, pictures) {
        const table = own ?? tableFrom(pictures[0])
        if (!table) return
        const [r, g, b] = rgb
        throughTable(table, rgb)
        rgb[0] = r + strength * (rgb[0] - r)
        rgb[1] = g + strength * (rgb[1] - g)
        rgb[2] = b + strength * (rgb[2] - b)
      },
      fast({ kernel, table, pictures }, blocks, count) {
        const found = own ?? tableFrom(pictures[0])
        if (!found) return
        const { size, values, dimensions } = found
        // A list becomes a cube: as fine as a grading needs, for a channel's curve is smooth.
        const n = dimensions === 3 ? size : Math.min(65, size)
        const cube = table(`cube ${n}`, 4 * n ** 3, (numbers) => {
          const rgb = new Float64Array(3)
          for (let i = 0; i < n ** 3; i++) {
            if (dimensions === 3) rgb.set(values.subarray(3 * i, 3 * i + 3))
            else {
              rgb.set([i % n, Math.floor(i / n) % n, Math.floor(i / n ** 2)].map((k) => k / (n - 1)))
              throughTable(found, rgb)
            }
            numbers.set(rgb, 4 * i)
          }
        })
        kernel.throughCube(blocks, count, cube, n, strength)
      },
    }
  },
})
