import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model } from '../geometry/polygon-mesh'
import type { FileBundle } from './file-bundle'
import { findFile, stem } from './file-bundle'
import { parsePlyHeader, type PlyElement, type PlyHeader, type PlyProperty } from './ply-header'
import { AsciiNumbers, BinaryNumbers, type NumberSource } from './ply-numbers'

/** Where in a vertex the numbers are that matter; −1 where the file has none. */
interface VertexLayout {
  readonly place: readonly number[]
  readonly normal: readonly number[] | null
  readonly uv: readonly number[] | null
  readonly colour: readonly number[] | null
  /** What makes a colour 0…1. */
  readonly colourScale: number
}

const find = (element: PlyElement, ...names: readonly string[]): number =>
  element.properties.findIndex((p) => names.includes(p.name) && p.countType === null)

function vertexLayout(element: PlyElement, fileName: string): VertexLayout {
  const all = (...lists: readonly (readonly string[])[]): number[] | null => {
    const found = lists.map((names) => find(element, ...names))
    return found.every((at) => at >= 0) ? found : null
  }
  const place = all(['x'], ['y'], ['z'])
  if (!place) throw new UnreadableFileError(fileName, 'its vertices have no x, y and z')
  const colour = all(
    ['red', 'r', 'diffuse_red'],
    ['green', 'g', 'diffuse_green'],
    ['blue', 'b', 'diffuse_blue'],
  )
  const type = colour ? element.properties[colour[0]].type : 'float32'
  return {
    place,
    normal: all(['nx'], ['ny'], ['nz']),
    uv: all(['s', 'u', 'texture_u'], ['t', 'v', 'texture_v']),
    colour,
    colourScale: type === 'uint8' ? 1 / 255 : type === 'uint16' ? 1 / 65535 : 1,
  }
}

/** Reads past one property. */
function skip(property: PlyProperty, numbers: NumberSource): void {
  const count = property.countType === null ? 1 : numbers.next(property.countType)
  for (let i = 0; i < count; i++) numbers.next(property.type)
}

/**
 * Reads a PLY, text or binary of either byte order, with its properties in any order: polygons, normals, texture
 * coordinates. Vertex colours are averaged into the colour of its one material.
 * @throws {UnreadableFileError} naming the element and what is wrong with it.
 */
export function readPly(bundle: FileBundle, fileName: string): Model {
  const bytes = findFile(bundle, fileName)
  if (!bytes) throw new UnreadableFileError(fileName, 'the file is not among those given')
  const header = parsePlyHeader(bytes, fileName)
  const body = bytes.subarray(header.length)
  const numbers: NumberSource =
    header.format === 'ascii' ? new AsciiNumbers(body) : new BinaryNumbers(body, header.format)
  const builder = new MeshBuilder()
  builder.parts.push({ name: stem(fileName), parent: -1 })
  try {
    readElements(header, numbers, builder, fileName)
  } catch (cause) {
    if (cause instanceof RangeError)
      throw new UnreadableFileError(fileName, `${cause.message}: the file is cut short, or is no PLY`, {
        cause,
      })
    throw cause
  }
  if (builder.faces === 0) throw new UnreadableFileError(fileName, 'holds no usable polygon')
  return builder.finish(stem(fileName))
}

function readElements(
  header: PlyHeader,
  numbers: NumberSource,
  builder: MeshBuilder,
  fileName: string,
): void {
  let normals: Float32Array | null = null
  let uvs: Float32Array | null = null
  const colourSum = [0, 0, 0]
  let coloured = 0
  builder.materials.push({ name: 'unnamed', baseColour: [0.8, 0.8, 0.8] })
  for (const element of header.elements) {
    if (element.properties.length === 0) continue
    // One byte or character per element at the least: a count that cannot be true is refused before it is believed.
    if (element.count > numbers.remaining)
      throw new UnreadableFileError(
        fileName,
        `claims ${element.count} of element ${element.name}, more than the file can hold`,
      )
    if (element.name === 'vertex') {
      const layout = vertexLayout(element, fileName)
      normals = layout.normal && new Float32Array(3 * element.count)
      uvs = layout.uv && new Float32Array(2 * element.count)
      const values = new Float64Array(element.properties.length)
      for (let v = 0; v < element.count; v++) {
        numbers.at(element.name, v)
        element.properties.forEach((property, p) => {
          if (property.countType !== null) skip(property, numbers)
          else values[p] = numbers.next(property.type)
        })
        builder.positions.push3(values[layout.place[0]], values[layout.place[1]], values[layout.place[2]])
        if (normals && layout.normal)
          for (let k = 0; k < 3; k++) normals[3 * v + k] = values[layout.normal[k]]
        if (uvs && layout.uv) for (let k = 0; k < 2; k++) uvs[2 * v + k] = values[layout.uv[k]]
        if (layout.colour) {
          for (let k = 0; k < 3; k++) colourSum[k] += values[layout.colour[k]] * layout.colourScale
          coloured++
        }
      }
      continue
    }
    const list = element.properties.findIndex(
      (p) => p.countType !== null && (p.name === 'vertex_indices' || p.name === 'vertex_index'),
    )
    const corner: number[] = []
    for (let f = 0; f < element.count; f++) {
      numbers.at(element.name, f)
      element.properties.forEach((property, p) => {
        if (p !== list || element.name !== 'face') {
          skip(property, numbers)
          return
        }
        corner.length = 0
        const count = numbers.next(property.countType ?? 'uint8')
        for (let k = 0; k < count; k++) corner.push(numbers.next(property.type))
      })
      if (element.name !== 'face' || list < 0) continue
      const inside = corner.every((v) => v >= 0 && 3 * v < builder.positions.length)
      const at = (values: Float32Array | null, width: number) =>
        values && inside
          ? corner.flatMap((v) => Array.from(values.subarray(width * v, width * v + width)))
          : null
      builder.addFace(corner, at(normals, 3), at(uvs, 2), 0, 0)
    }
  }
  if (coloured > 0) {
    const [r, g, b] = colourSum.map((sum) => Math.min(1, Math.max(0, sum / coloured)))
    builder.materials[0] = { name: 'vertex colours', baseColour: [r, g, b] }
    builder.warn('colours-averaged', null, () => 'its vertex colours were averaged into one material')
  }
}
