import { describe, expect, it } from 'vitest'
import { LUTCubeLoader } from 'three/addons/loaders/LUTCubeLoader.js'
import { seededRandom } from '../math/sampling'
import { ownTable, ownTableLabels } from '../effects/own-tables'
import {
  cubeOf,
  isCubeTable,
  readCubeTable,
  tableOfPicture,
  tablePicture,
  throughTable,
  writeCubeTable,
  type GradingTable,
} from './cube-table'

const through = (table: GradingTable, ...rgb: number[]): number[] => {
  const out = Float64Array.from(rgb)
  throughTable(table, out)
  return [...out].map((v) => Number(v.toFixed(6)))
}
/** Two entries an axis: red and blue change places. */
const SWAP = `# by hand
TITLE "Swap"
LUT_3D_SIZE 2

0 0 0
0 0 1
0 1 0
0 1 1
1 0 0
1 0 1
1 1 0
1 1 1
`

describe('a .cube file', () => {
  it('holds colours red fastest, comments and empty lines left out', () => {
    const table = readCubeTable(SWAP, 'swap.cube')
    expect(table).toMatchObject({ title: 'Swap', dimensions: 3, size: 2 })
    expect(through(table, 0.25, 0.5, 0.75)).toEqual([0.75, 0.5, 0.25])
  })
  it('of one dimension has a list for each channel', () => {
    const table = readCubeTable('LUT_1D_SIZE 3\n0 1 0\n0.25 0.5 0.5\n1 0 1\n', 'list.cube')
    expect(through(table, 0.5, 0.5, 0.5)).toEqual([0.25, 0.5, 0.5])
    expect(through(table, 0.25, 0.25, 0.75)).toEqual([0.125, 0.75, 0.75])
  })
  it('of another domain is brought to 0 to 1', () => {
    const rows = '0 0 0\n1 1 1\n'
    const table = readCubeTable(
      `LUT_1D_SIZE 2\nDOMAIN_MIN 0.2 0 0\nDOMAIN_MAX 0.7 1 1\n${rows}`,
      'domain.cube',
    )
    expect(through(table, 0, 0, 0)).toEqual([0, 0, 0])
    expect(through(table, 1, 1, 1)).toEqual([1, 1, 1])
  })
  it.each([
    ['no size', '0 0 0\n', /line 1: numbers come before the size/],
    ['nothing of a table', 'TITLE "x"\n', /no grading table/],
    ['too few rows', 'LUT_3D_SIZE 2\n0 0 0\n', /holds 1 rows of numbers, not 8/],
    ['too many rows', 'LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1\n', /line 4: there are more rows than 2/],
    ['a size of one', 'LUT_3D_SIZE 1\n', /line 1: LUT_3D_SIZE must be a whole number from 2 to 256/],
    ['two sizes', 'LUT_3D_SIZE 2\nLUT_1D_SIZE 2\n', /line 2: it has two sizes/],
    ['a word among the numbers', 'LUT_1D_SIZE 2\n0 zero 0\n1 1 1\n', /line 2: must be three numbers/],
    ['a keyword nobody knows', 'LUT_1D_SIZE 2\nWHAT 3\n', /line 2: WHAT means nothing here/],
    [
      'a domain of nothing',
      'LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1\n',
      /domain begins where it should end/,
    ],
  ])('with %s is refused by its line', (_, text, why) => {
    expect(() => readCubeTable(text, 'broken.cube')).toThrow(why)
    expect(() => readCubeTable(text, 'broken.cube')).toThrow('broken.cube')
  })
  it('that was written is read by another reader, and by this one', () => {
    const random = seededRandom(3)
    const table = cubeOf('Tide "1"', 5, (rgb) => rgb.forEach((v, c) => (rgb[c] = 0.6 * v + 0.4 * random())))
    const text = writeCubeTable(table)
    expect(isCubeTable(text)).toBe(true)
    const again = readCubeTable(text, 'tide.cube')
    const other = new LUTCubeLoader().parse(text)
    expect(other.size).toBe(5)
    const data = other.texture3D.image.data as unknown as Uint8Array
    table.values.forEach((v, i) => {
      expect(again.values[i]).toBeCloseTo(v, 5)
      // That one keeps bytes, four a colour.
      expect(Math.abs(data[4 * Math.floor(i / 3) + (i % 3)] / 255 - v)).toBeLessThan(1 / 250)
    })
  })
  it('is kept as a picture and comes back', () => {
    const table = readCubeTable(SWAP, 'swap.cube')
    expect(tableOfPicture(tablePicture(table))).toMatchObject({
      dimensions: 3,
      size: 2,
      values: table.values,
    })
    expect(tableOfPicture({ width: 4, height: 3, pixels: new Float32Array(48) })).toBeNull()
  })
})

describe('tables of our own', () => {
  it('are twelve, each another, all within what a display shows', () => {
    const names = Object.keys(ownTableLabels)
    expect(names).toHaveLength(12)
    const middles = names.map((name) => {
      const table = ownTable(name)
      if (!table) throw new Error(`${name} is not there`)
      expect(table.values.every((v) => v >= 0 && v <= 1)).toBe(true)
      const at = (v: number) => through(table, v, v, v)
      // Greys keep their order: nothing is turned over.
      const tones = [0, 0.2, 0.4, 0.6, 0.8, 1].map((v) => at(v).reduce((a, b) => a + b, 0))
      expect([...tones].sort((a, b) => a - b)).toEqual(tones)
      return at(0.5).join()
    })
    expect(new Set(middles).size).toBe(12)
    expect(ownTable('toString')).toBeNull()
  })
})
