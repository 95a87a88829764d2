import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import { GrowingUints } from '../geometry/growing-array'
import type { Model } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import type { FileBundle } from './file-bundle'
import { FileFinder, stem } from './file-bundle'
import { parsePlyHeader, type PlyElement, type PlyHeader, type PlyProperty } from './ply-header'
import { EndOfFileError, AsciiNumbers, BinaryNumbers, type NumberSource } from './ply-numbers'

/** Where in a vertex the numbers are that matter; −1 where the file has none. */
interface VertexLayout {
  readonly place: readonly number[]
  readonly normal: readonly number[] | null
  readonly uv: readonly number[] | null
  readonly colour: readonly number[] | null
  /** What makes a colour 0…255. */
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
    colourScale: type === 'uint8' ? 1 : type === 'uint16' ? 1 / 257 : 255,
  }
}

/** Reads past one property. */
function skip(property: PlyProperty, numbers: NumberSource): void {
  const count = property.countType === null ? 1 : numbers.next(property.countType)
  for (let i = 0; i < count; i++) numbers.next(property.type)
}

/** What each vertex looks like, for those properties that the file has. */
interface VertexLooks {
  readonly normals: Float32Array | null
  readonly uvs: Float32Array | null
  readonly colours: Uint8Array | null
}

/** Reads all vertices. */
function readVertices(
  element: PlyElement,
  numbers: NumberSource,
  builder: MeshBuilder,
  fileName: string,
): VertexLooks {
  const layout = vertexLayout(element, fileName)
  const normals = layout.normal && new Float32Array(3 * element.count)
  const uvs = layout.uv && new Float32Array(2 * element.count)
  const colours = layout.colour && new Uint8Array(3 * element.count)
  const { properties } = element
  const values = new Float64Array(properties.length)
  const [px, py, pz] = layout.place
  for (let v = 0; v < element.count; v++) {
    numbers.at(element.name, v)
    for (let p = 0; p < properties.length; p++) {
      if (properties[p].countType !== null) skip(properties[p], numbers)
      else values[p] = numbers.next(properties[p].type)
    }
    builder.positions.push3(values[px], values[py], values[pz])
    if (normals && layout.normal) for (let k = 0; k < 3; k++) normals[3 * v + k] = values[layout.normal[k]]
    if (uvs && layout.uv) for (let k = 0; k < 2; k++) uvs[2 * v + k] = values[layout.uv[k]]
    if (colours && layout.colour)
      for (let k = 0; k < 3; k++)
        colours[3 * v + k] = Math.min(
          255,
          Math.max(0, Math.round(values[layout.colour[k]] * layout.colourScale)),
        )
  }
  return { normals, uvs, colours }
}

/** Most corners one polygon may have: a count beyond it is damage, and would fill the memory. */
const MOST_CORNERS = 1 << 20

/** Reads all faces: where each begins, and the vertices of their corners. */
function readFaces(element: PlyElement, numbers: NumberSource, fileName: string) {
  const list = element.properties.findIndex(
    (p) => p.countType !== null && (p.name === 'vertex_indices' || p.name === 'vertex_index'),
  )
  const starts = new GrowingUints()
  const corners = new GrowingUints()
  starts.push(0)
  const { properties } = element
  for (let f = 0; f < element.count; f++) {
    numbers.at(element.name, f)
    for (let p = 0; p < properties.length; p++) {
      const property = properties[p]
      if (p !== list || property.countType === null) {
        skip(property, numbers)
        continue
      }
      const count = numbers.next(property.countType)
      if (count > MOST_CORNERS)
        throw new UnreadableFileError(fileName, `its face ${f} claims ${count} corners`)
      // A negative or broken number becomes one that no vertex has.
      for (let k = 0; k < count; k++) {
        const v = numbers.next(property.type)
        corners.push(v >= 0 && v < 0xffffffff ? v : 0xffffffff)
      }
    }
    starts.push(corners.length)
  }
  return { starts: starts.view(), corners: corners.view() }
}

/**
 * Reads a PLY, text or binary of either byte order, with its properties in any order: polygons, normals, texture
 * coordinates and colours of the vertices.
 * @throws {UnreadableFileError} naming the element and what is wrong with it.
 */
export function readPly(bundle: FileBundle, fileName: string): Model & { readonly files: string[] } {
  const finder = new FileFinder(bundle, fileName)
  const header = parsePlyHeader(finder.bytes, fileName)
  const body = finder.bytes.subarray(header.length)
  const numbers: NumberSource =
    header.format === 'ascii' ? new AsciiNumbers(body) : new BinaryNumbers(body, header.format)
  const builder = new MeshBuilder()
  builder.parts.push({ name: stem(fileName), parent: -1 })
  try {
    readElements(header, numbers, builder, fileName)
  } catch (cause) {
    if (cause instanceof EndOfFileError)
      throw new UnreadableFileError(fileName, `${cause.message}: the file is cut short, or is no PLY`, {
        cause,
      })
    throw cause
  }
  if (builder.faces === 0)
    throw new UnreadableFileError(
      fileName,
      builder.vertexTotal > 0 ? 'holds points but no usable polygon' : 'holds no usable polygon',
    )
  return { ...builder.finish(stem(fileName)), files: finder.used }
}

function readElements(
  header: PlyHeader,
  numbers: NumberSource,
  builder: MeshBuilder,
  fileName: string,
): void {
  let looks: VertexLooks = { normals: null, uvs: null, colours: null }
  let faces: ReturnType<typeof readFaces> | null = null
  for (const element of header.elements) {
    if (element.properties.length === 0) continue
    // One byte or character per element at the least: a count that cannot be true is refused before it is believed.
    if (element.count > numbers.remaining)
      throw new UnreadableFileError(
        fileName,
        `claims ${element.count} of element ${element.name}, more than the file can hold`,
      )
    if (element.name === 'vertex') looks = readVertices(element, numbers, builder, fileName)
    else if (element.name === 'face') faces = readFaces(element, numbers, fileName)
    else
      for (let i = 0; i < element.count; i++) {
        numbers.at(element.name, i)
        for (const property of element.properties) skip(property, numbers)
      }
  }
  // Faces may stand before their vertices.
  builder.materials.push({
    ...PLAIN_MATERIAL,
    ...(looks.colours ? { name: 'vertex colours', baseColour: [1, 1, 1] as const } : {}),
  })
  if (faces)
    builder.addFaces({
      starts: faces.starts,
      vertices: faces.corners,
      base: 0,
      ...looks,
      part: 0,
      material: 0,
      turned: false,
    })
}
