import { UnreadableFileError } from '../errors'
import type { RgbaPicture } from '../picture/rgba-picture'

/** Colours for colours, as a `.cube` file holds them: display values for display values from 0 to 1. */
export interface GradingTable {
  readonly title: string
  /** One list for each channel by itself, or a cube of colours. */
  readonly dimensions: 1 | 3
  /** Entries along each axis. */
  readonly size: number
  /** RGB of each entry, red fastest: 3·size or 3·size³. */
  readonly values: Float32Array
}

/** What the format allows: entries of a cube on each axis, and of a list. */
const MOST = { 1: 65536, 3: 256 } as const

/** Whether bytes are those of a table: its keyword stands near the beginning. */
export const isCubeTable = (text: string): boolean => /^\s*LUT_[13]D_SIZE\s/m.test(text)

const numbersOf = (line: string): number[] => line.trim().split(/\s+/).map(Number)

/**
 * Reads a table in the open "Cube LUT" format, version 1.0: comments, title, size, domain and as many rows of three numbers as
 * the size asks for. Domains other than 0 to 1 are brought to it.
 * @throws {UnreadableFileError} naming the file, and the line and what is wrong with it.
 */
export function readCubeTable(text: string, fileName: string): GradingTable {
  const refuse = (line: number, why: string): never => {
    throw new UnreadableFileError(fileName, `line ${line + 1}: ${why}`)
  }
  let title = ''
  let dimensions: 1 | 3 | null = null
  let size = 0
  const domain = { DOMAIN_MIN: [0, 0, 0], DOMAIN_MAX: [1, 1, 1] }
  let values = new Float32Array(0)
  let found = 0
  text.split(/\r\n|\n|\r/).forEach((line, i) => {
    const own = line.trim()
    if (own === '' || own.startsWith('#')) return
    const keyword = /^[A-Z_0-9]*[A-Z_][A-Z_0-9]*/.exec(own)?.[0]
    if (keyword !== undefined) {
      const rest = own.slice(keyword.length)
      if (found > 0) refuse(i, `${keyword} comes after the numbers`)
      if (keyword === 'TITLE') title = /"([^"]*)"/.exec(rest)?.[1] ?? rest.trim()
      else if (keyword === 'LUT_1D_SIZE' || keyword === 'LUT_3D_SIZE') {
        if (dimensions !== null) refuse(i, 'it has two sizes')
        const kind = keyword === 'LUT_1D_SIZE' ? 1 : 3
        const [n] = numbersOf(rest)
        if (!Number.isInteger(n) || n < 2 || n > MOST[kind])
          refuse(i, `${keyword} must be a whole number from 2 to ${MOST[kind]}`)
        dimensions = kind
        size = n
        values = new Float32Array(3 * (kind === 1 ? n : n ** 3))
      } else if (keyword === 'DOMAIN_MIN' || keyword === 'DOMAIN_MAX') {
        const three = numbersOf(rest)
        if (three.length !== 3 || !three.every(Number.isFinite)) refuse(i, `${keyword} must be three numbers`)
        domain[keyword] = three
      } else if (!/^LUT_[13]D_INPUT_RANGE$/.test(keyword)) refuse(i, `${keyword} means nothing here`)
      else {
        const [from, to] = numbersOf(rest)
        if (!Number.isFinite(from) || !Number.isFinite(to)) refuse(i, `${keyword} must be two numbers`)
        domain.DOMAIN_MIN = [from, from, from]
        domain.DOMAIN_MAX = [to, to, to]
      }
      return
    }
    if (dimensions === null) refuse(i, 'numbers come before the size')
    const three = numbersOf(own)
    if (three.length !== 3 || !three.every(Number.isFinite)) refuse(i, 'must be three numbers')
    if (found >= values.length) refuse(i, `there are more rows than ${values.length / 3}`)
    values.set(three, found)
    found += 3
  })
  if (dimensions === null)
    throw new UnreadableFileError(fileName, 'has no LUT_1D_SIZE or LUT_3D_SIZE: it is no grading table')
  if (found < values.length)
    throw new UnreadableFileError(fileName, `holds ${found / 3} rows of numbers, not ${values.length / 3}`)
  const { DOMAIN_MIN: low, DOMAIN_MAX: high } = domain
  if (low.some((v, c) => v >= high[c]))
    throw new UnreadableFileError(fileName, 'its domain begins where it should end')
  const table = { title, dimensions, size, values }
  const isPlain = low.every((v) => v === 0) && high.every((v) => v === 1)
  return isPlain ? table : inUnitDomain(table, low, high)
}

/** The same table over 0 to 1. */
function inUnitDomain(table: GradingTable, low: readonly number[], high: readonly number[]): GradingTable {
  const { size, dimensions } = table
  const values = new Float32Array(table.values.length)
  const rgb = new Float64Array(3)
  for (let i = 0; i < values.length / 3; i++) {
    const at =
      dimensions === 1 ? [i, i, i] : [i % size, Math.floor(i / size) % size, Math.floor(i / size ** 2)]
    at.forEach((k, c) => (rgb[c] = (k / (size - 1) - low[c]) / (high[c] - low[c])))
    throughTable(table, rgb)
    values.set(rgb, 3 * i)
  }
  return { ...table, values }
}

/** A colour through a table, in place: between entries by straight lines, in a cube between its eight nearest. */
export function throughTable({ dimensions, size, values }: GradingTable, rgb: Float64Array): void {
  const place = (v: number) => Math.min(1, Math.max(0, v)) * (size - 1)
  if (dimensions === 1) {
    for (let c = 0; c < 3; c++) {
      const at = place(rgb[c])
      const i = Math.min(size - 2, Math.floor(at))
      rgb[c] = values[3 * i + c] + (values[3 * i + 3 + c] - values[3 * i + c]) * (at - i)
    }
    return
  }
  const at = [place(rgb[0]), place(rgb[1]), place(rgb[2])]
  const i = at.map((v) => Math.min(size - 2, Math.floor(v)))
  const f = at.map((v, c) => v - i[c])
  const sum = [0, 0, 0]
  for (let k = 0; k < 8; k++) {
    const corner = [k & 1, (k >> 1) & 1, k >> 2]
    const weight = corner.reduce((w, on, c) => w * (on ? f[c] : 1 - f[c]), 1)
    const entry = 3 * (i[0] + corner[0] + size * (i[1] + corner[1] + size * (i[2] + corner[2])))
    for (let c = 0; c < 3; c++) sum[c] += weight * values[entry + c]
  }
  rgb.set(sum)
}

/** Writes a table in the same format. */
export function writeCubeTable({ title, dimensions, size, values }: GradingTable): string {
  const lines = [`TITLE "${title.replace(/["\r\n]/g, ' ')}"`, `LUT_${dimensions}D_SIZE ${size}`]
  for (let i = 0; i < values.length; i += 3)
    lines.push([values[i], values[i + 1], values[i + 2]].map((v) => v.toFixed(6)).join(' '))
  return lines.join('\n') + '\n'
}

/** A cube of so many entries on each axis of what a change makes of colours. @param change changes display RGB in place. */
export function cubeOf(title: string, size: number, change: (rgb: Float64Array) => void): GradingTable {
  const values = new Float32Array(3 * size ** 3)
  const rgb = new Float64Array(3)
  for (let i = 0; i < size ** 3; i++) {
    rgb[0] = (i % size) / (size - 1)
    rgb[1] = (Math.floor(i / size) % size) / (size - 1)
    rgb[2] = Math.floor(i / size ** 2) / (size - 1)
    change(rgb)
    values.set(rgb, 3 * i)
  }
  return { title, dimensions: 3, size, values }
}

/** A table as a picture that can be kept among pictures: its rows as rows, a cube's sheets one beneath another. */
export function tablePicture({ dimensions, size, values }: GradingTable): RgbaPicture {
  const count = values.length / 3
  const pixels = new Float32Array(4 * count)
  for (let i = 0; i < count; i++) pixels.set([values[3 * i], values[3 * i + 1], values[3 * i + 2], 1], 4 * i)
  return { width: size, height: dimensions === 1 ? 1 : size * size, pixels }
}

/** The table that a picture is kept as; null where it is none. */
export function tableOfPicture({ width, height, pixels }: RgbaPicture): GradingTable | null {
  if (width < 2 || (height !== 1 && height !== width * width)) return null
  const values = new Float32Array(3 * width * height)
  for (let i = 0; i < width * height; i++) values.set(pixels.subarray(4 * i, 4 * i + 3), 3 * i)
  return { title: '', dimensions: height === 1 ? 1 : 3, size: width, values }
}
