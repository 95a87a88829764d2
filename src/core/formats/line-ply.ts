import { strFromU8, strToU8 } from 'fflate'
import { UnreadableFileError } from '../errors'
import { GrowingFloats, GrowingUints } from '../geometry/growing-array'
import { validateDrawing, type DrawingPart, type LineDrawing } from '../lines/line-drawing'
import { LINE_KINDS } from '../lines/line-kinds'
import { parsePlyHeader, type PlyElement, type PlyType } from './ply-header'
import { EndOfFileError, BinaryNumbers } from './ply-numbers'

/**
 * Drawings as PLY files, little-endian: one element `picture` with its `aspect`; vertices with `x` and `y` in shares of
 * the picture's height, `z` the depth in world units, `nx ny nz` in camera space and `strength`; lines with the list
 * `vertex_index` and what they are; parts with `key` and `name` as UTF-8 bytes. docs/project-archive.md describes each.
 */
const ELEMENTS = {
  picture: ['double aspect'],
  vertex: ['x', 'y', 'z', 'nx', 'ny', 'nz', 'strength'].map((name) => `float ${name}`),
  line: [
    'list uint uint vertex_index',
    'uchar kind',
    'uint part',
    'uint other_part',
    'uchar hidden',
    'uchar closed',
  ],
  part: ['list uint uchar key', 'list uint uchar name'],
} as const

/** Writes a drawing as a PLY file. */
export function writeLinePly(drawing: LineDrawing): Uint8Array {
  const { count, starts, points, depths, normals, strengths } = drawing
  const total = starts[count]
  const names = drawing.scene.map(({ key, name }) => [strToU8(key), strToU8(name)])
  const counts = { picture: 1, vertex: total, line: count, part: names.length }
  const header = strToU8(
    [
      'ply',
      'format binary_little_endian 1.0',
      `comment kinds of line by number: ${LINE_KINDS.join(', ')}`,
      ...Object.entries(ELEMENTS).flatMap(([element, properties]) => [
        `element ${element} ${counts[element as keyof typeof counts]}`,
        ...properties.map((property) => `property ${property}`),
      ]),
      'end_header\n',
    ].join('\n'),
  )
  const nameBytes = names.reduce((sum, [key, name]) => sum + 8 + key.length + name.length, 0)
  const out = new Uint8Array(header.length + 8 + 28 * total + 4 * total + 15 * count + nameBytes)
  out.set(header)
  const view = new DataView(out.buffer)
  let at = header.length
  const put = {
    float: (value: number) => view.setFloat32((at += 4) - 4, value, true),
    uint: (value: number) => view.setUint32((at += 4) - 4, value, true),
    uchar: (value: number) => view.setUint8(at++, value),
  }
  view.setFloat64(at, drawing.aspect, true)
  at += 8
  for (let p = 0; p < total; p++) {
    put.float(points[2 * p])
    put.float(points[2 * p + 1])
    put.float(depths[p])
    for (let axis = 0; axis < 3; axis++) put.float(normals[3 * p + axis])
    put.float(strengths[p])
  }
  for (let l = 0; l < count; l++) {
    put.uint(starts[l + 1] - starts[l])
    for (let p = starts[l]; p < starts[l + 1]; p++) put.uint(p)
    put.uchar(drawing.kinds[l])
    put.uint(drawing.parts[l])
    put.uint(drawing.otherParts[l])
    put.uchar(drawing.hidden[l])
    put.uchar(drawing.closed[l])
  }
  for (const pair of names)
    for (const bytes of pair) {
      put.uint(bytes.length)
      out.set(bytes, at)
      at += bytes.length
    }
  return out
}

/** Reads back what {@link writeLinePly} wrote. @throws {UnreadableFileError} naming what is wrong. */
export function readLinePly(bytes: Uint8Array, fileName: string): LineDrawing {
  const refuse = (reason: string): never => {
    throw new UnreadableFileError(fileName, reason)
  }
  const header = parsePlyHeader(bytes, fileName)
  if (header.format !== 'little') refuse('is not a drawing: its format is not binary_little_endian')
  for (const [element, properties] of Object.entries(ELEMENTS)) {
    const found = header.elements.find(({ name }) => name === element)
    if (!found) return refuse(`is not a drawing: it has no element ${element}`)
    for (const property of properties) {
      const words = property.split(' ')
      const name = words[words.length - 1]
      const isList = words[0] === 'list'
      const its = found.properties.find((p) => p.name === name)
      if (!its || (its.countType !== null) !== isList) refuse(`its ${element} has no ${name}`)
    }
  }
  const numbers = new BinaryNumbers(bytes.subarray(header.length), 'little')
  const values: Record<string, number[]> = {}
  const lists: Record<string, number[]> = {}
  const rows = {
    aspect: 0,
    vertices: new GrowingFloats(),
    starts: [0],
    order: new GrowingUints(),
    lines: [] as Record<string, number>[],
    scene: [] as DrawingPart[],
  }
  const text = (list: readonly number[]) => strFromU8(Uint8Array.from(list))
  const take = (element: PlyElement) => {
    const row: Record<string, number> = {}
    if (element.name === 'picture') rows.aspect = values.aspect[0]
    else if (element.name === 'vertex')
      for (const name of ['x', 'y', 'z', 'nx', 'ny', 'nz', 'strength']) rows.vertices.push(values[name][0])
    else if (element.name === 'line') {
      for (const p of lists.vertex_index) rows.order.push(p)
      rows.starts.push(rows.order.length)
      for (const name of ['kind', 'part', 'other_part', 'hidden', 'closed']) row[name] = values[name][0]
      rows.lines.push(row)
    } else if (element.name === 'part') rows.scene.push({ key: text(lists.key), name: text(lists.name) })
  }
  try {
    for (const element of header.elements) {
      for (let i = 0; i < element.count; i++) {
        numbers.at(element.name, i)
        for (const { name, type, countType } of element.properties) {
          if (countType === null) (values[name] ??= [0])[0] = numbers.next(type)
          else lists[name] = nextList(numbers, countType, type)
        }
        take(element)
      }
    }
  } catch (error) {
    if (error instanceof EndOfFileError) return refuse(error.message)
    throw error
  }
  const order = rows.order.toArray() as Uint32Array
  const vertices = rows.vertices.toArray() as Float32Array
  if (order.some((p) => 7 * p >= vertices.length)) refuse('a line names a vertex that is not there')
  const gather = (width: number, first: number) => {
    const out = new Float32Array(width * order.length)
    for (let p = 0; p < order.length; p++)
      for (let k = 0; k < width; k++) out[width * p + k] = vertices[7 * order[p] + first + k]
    return out
  }
  const column = (name: string) => rows.lines.map((row) => row[name])
  const drawing: LineDrawing = {
    aspect: rows.aspect,
    scene: rows.scene,
    count: rows.lines.length,
    starts: Uint32Array.from(rows.starts),
    points: gather(2, 0),
    depths: gather(1, 2),
    normals: gather(3, 3),
    strengths: gather(1, 6),
    kinds: Uint8Array.from(column('kind')),
    parts: Uint32Array.from(column('part')),
    otherParts: Uint32Array.from(column('other_part')),
    hidden: Uint8Array.from(column('hidden')),
    closed: Uint8Array.from(column('closed')),
  }
  const [problem] = validateDrawing(drawing)
  return problem ? refuse(`its lines do not hold together: ${problem}`) : drawing
}

function nextList(numbers: BinaryNumbers, countType: PlyType, type: PlyType): number[] {
  const count = numbers.next(countType)
  // One that claims more than the file holds must not be made room for.
  if (!(count >= 0 && count <= numbers.remaining))
    throw new EndOfFileError('a list claims more than the file holds')
  return Array.from({ length: count }, () => numbers.next(type))
}
