import { strFromU8 } from 'fflate'
import { UnreadableFileError } from '../errors'

/** Number types of a PLY file, under their plain names. */
export const PLY_TYPES = {
  char: 'int8',
  int8: 'int8',
  uchar: 'uint8',
  uint8: 'uint8',
  short: 'int16',
  int16: 'int16',
  ushort: 'uint16',
  uint16: 'uint16',
  int: 'int32',
  int32: 'int32',
  uint: 'uint32',
  uint32: 'uint32',
  float: 'float32',
  float32: 'float32',
  double: 'float64',
  float64: 'float64',
} as const
export type PlyType = (typeof PLY_TYPES)[keyof typeof PLY_TYPES]

export interface PlyProperty {
  readonly name: string
  readonly type: PlyType
  /** Type of the count of a list; null for a single number. */
  readonly countType: PlyType | null
}
export interface PlyElement {
  readonly name: string
  readonly count: number
  readonly properties: readonly PlyProperty[]
}
export interface PlyHeader {
  readonly format: 'ascii' | 'little' | 'big'
  readonly elements: readonly PlyElement[]
  /** Bytes up to and including the line end of `end_header`. */
  readonly length: number
}

const FORMATS: Readonly<Record<string, PlyHeader['format']>> = {
  ascii: 'ascii',
  binary_little_endian: 'little',
  binary_big_endian: 'big',
}
/** Longest header looked through, in bytes. */
const MAX_HEADER = 1 << 20

/** @throws {UnreadableFileError} naming the line. */
export function parsePlyHeader(bytes: Uint8Array, fileName: string): PlyHeader {
  const text = strFromU8(bytes.subarray(0, MAX_HEADER), true)
  const refuse = (reason: string): never => {
    throw new UnreadableFileError(fileName, reason)
  }
  if (!/^ply\s*[\r\n]/.test(text)) refuse('is not a PLY: its first line is not "ply"')
  const end = /(?:^|[\r\n])end_header[ \t]*(\r\n|\n|\r)/.exec(text)
  if (!end) return refuse('its header has no end_header')
  const length = end.index + end[0].length
  const typeOf = (word: string | undefined, line: string): PlyType =>
    Object.hasOwn(PLY_TYPES, word ?? '')
      ? PLY_TYPES[word as keyof typeof PLY_TYPES]
      : refuse(`its header line "${line}" names an unknown type`)
  let format: PlyHeader['format'] | null = null
  const elements: { name: string; count: number; properties: PlyProperty[] }[] = []
  for (const line of text.slice(0, end.index).split(/[\r\n]+/)) {
    const words = line.trim().split(/\s+/)
    if (words[0] === 'format') {
      format = FORMATS[words[1]] ?? refuse(`its format ${words[1]} is not supported`)
    } else if (words[0] === 'element') {
      const count = Number(words[2])
      if (!Number.isInteger(count) || count < 0) refuse(`its header line "${line.trim()}" has no sound count`)
      elements.push({ name: words[1], count, properties: [] })
    } else if (words[0] === 'property') {
      const list = words[1] === 'list'
      const name = words[list ? 4 : 2]
      const element = elements.at(-1)
      if (!element || !name) return refuse(`its header line "${line.trim()}" belongs to no element`)
      element.properties.push({
        name,
        type: typeOf(words[list ? 3 : 1], line.trim()),
        countType: list ? typeOf(words[2], line.trim()) : null,
      })
    }
  }
  if (!format) return refuse('its header names no format')
  return { format, elements, length }
}
