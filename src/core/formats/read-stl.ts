import { strFromU8 } from 'fflate'
import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import { VertexIndex } from '../geometry/vertex-index'
import { weldCorners } from '../geometry/weld'
import type { FileBundle } from './file-bundle'
import { FileFinder, stem } from './file-bundle'
import { TextScanner, toUtf8 } from './text-bytes'

const HEADER = 84
const FACET = 50

/** The triangles a binary file claims, or −1 where it is too short to claim any. */
const claimedTriangles = (bytes: Uint8Array): number =>
  bytes.length < HEADER
    ? -1
    : new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true)

/**
 * Whether a file is the binary kind. Its size decides, not its first word: many binary files begin with `solid` too,
 * and some text files begin with anything but.
 */
function isBinary(bytes: Uint8Array): boolean {
  const claimed = claimedTriangles(bytes)
  if (claimed >= 0 && bytes.length === HEADER + FACET * claimed) return true
  const start = strFromU8(toUtf8(bytes.subarray(0, 4096)), true).trimStart()
  if (!/^solid\b/i.test(start)) return true
  // Numbers as bytes always have some that no text has.

  const hasBytes = /[\u0000-\u0008\u000e-\u001f]/.test(start)
  return hasBytes && !/\bfacet\b/i.test(start)
}

/** The nine numbers of every facet's corners: Float32Array, 9·T. */
function cornersOf(bytes: Uint8Array, triangles: number): Float32Array {
  const out = new Float32Array(9 * triangles)
  // Facets begin at halves of words: they are moved by halves, and read as numbers where they come to lie.
  const halves = new Uint16Array(out.buffer)
  const isEven = bytes.byteOffset % 2 === 0
  const source = isEven
    ? new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length >> 1)
    : new Uint16Array(bytes.slice(0, bytes.length & ~1).buffer)
  for (let t = 0; t < triangles; t++) {
    const from = (HEADER + FACET * t + 12) >> 1
    const to = 18 * t
    for (let k = 0; k < 18; k++) halves[to + k] = source[from + k]
  }
  if (!IS_LITTLE) {
    const own = new Uint8Array(out.buffer)
    for (let at = 0; at < own.length; at += 4) own.subarray(at, at + 4).reverse()
  }
  return out
}
const IS_LITTLE = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1

function readBinary(bytes: Uint8Array, fileName: string): Model {
  const claimed = claimedTriangles(bytes)
  if (claimed < 0)
    throw new UnreadableFileError(fileName, 'is neither a text STL nor long enough to be a binary one')
  const held = Math.floor((bytes.length - HEADER) / FACET)
  if (held < claimed)
    throw new UnreadableFileError(
      fileName,
      `claims ${claimed} triangles but holds ${held}: the file is cut short, or is no STL`,
    )
  const builder = new MeshBuilder()
  const part = builder.parts.push({ name: stem(fileName), parent: -1 }) - 1
  const material = builder.materials.push(PLAIN_MATERIAL) - 1
  // The facets' own normals are skipped: they are flat, often wrong, and made again from the corners.
  const { positions, numbers: corners } = weldCorners(cornersOf(bytes, claimed))
  builder.positions.append(positions)
  builder.areWelded = true
  const plain = { starts: null, base: 0, normals: null, uvs: null, colours: null, turned: false }
  builder.addFaces({ ...plain, vertices: corners, part, material })
  if (bytes.length > HEADER + FACET * claimed)
    builder.warn('bytes-left', null, () => `bytes behind the last triangle were left out`)
  if (builder.faces === 0) throw new UnreadableFileError(fileName, 'holds no usable polygon')
  return builder.finish(stem(fileName))
}

function readText(bytes: Uint8Array, fileName: string): Model {
  const builder = new MeshBuilder()
  const vertices = new VertexIndex(builder.positions)
  builder.materials.push(PLAIN_MATERIAL)
  let part = -1
  const loop: number[] = []
  const scanner = new TextScanner(toUtf8(bytes))
  while (!scanner.atEnd) {
    switch (scanner.word().toLowerCase()) {
      case 'solid':
        part = builder.parts.push({ name: scanner.rest() || stem(fileName), parent: -1 }) - 1
        break
      case 'vertex': {
        const [x, y, z] = [scanner.number(), scanner.number(), scanner.number()]
        // What is no number becomes a vertex of its own that no polygon may use.
        if (Number.isFinite(x + y + z)) loop.push(vertices.add(x, y, z))
        else {
          loop.push(builder.vertexTotal)
          builder.positions.push3(NaN, NaN, NaN)
        }
        break
      }
      case 'endloop':
        if (part < 0)
          throw new UnreadableFileError(fileName, `line ${scanner.line}: a facet stands outside any solid`)
        builder.addFace(loop, null, null, part, 0)
        loop.length = 0
        break
      default:
        break
    }
    scanner.nextLine()
  }
  if (loop.length > 0)
    builder.warn('cut-short', null, () => 'the file ends in the middle of a facet; that facet was dropped')
  if (builder.faces === 0) throw new UnreadableFileError(fileName, 'holds no usable polygon')
  return builder.finish(stem(fileName))
}

/**
 * Reads an STL, text or binary: each solid becomes a part, equal corners become one vertex, normals are made from the
 * faces.
 * @throws {UnreadableFileError} naming what is wrong.
 */
export function readStl(bundle: FileBundle, fileName: string): Model & { readonly files: string[] } {
  const finder = new FileFinder(bundle, fileName)
  const read = isBinary(finder.bytes) ? readBinary : readText
  return { ...read(finder.bytes, fileName), files: finder.used }
}
