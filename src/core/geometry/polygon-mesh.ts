import type { Bounds } from './bounds'
import { InvalidValueError } from '../errors'
import type { Camera } from '../scene/camera'

/**
 * Polygons as the modeller made them: a quad stays a quad. Faces list their corners; a corner names a vertex and
 * carries its own normal and texture coordinate.
 */
export interface PolygonMesh {
  /** Float32Array, 3·V, world units of the file. */
  readonly positions: Float32Array
  /** Uint32Array, F + 1: corners of face f are faceStarts[f] … faceStarts[f + 1] − 1, counter-clockwise. */
  readonly faceStarts: Uint32Array
  /** Uint32Array, C: vertex of each corner. */
  readonly cornerVertices: Uint32Array
  /** Float32Array, 3·C, unit length. */
  readonly cornerNormals: Float32Array
  /** Float32Array, 2·C, or null where the file has none. */
  readonly cornerUvs: Float32Array | null
  /** Uint8Array, 3·C, display values 0…255, or null where the file has none. */
  readonly cornerColours: Uint8Array | null
  /** Uint32Array, F: index into the model's parts. */
  readonly faceParts: Uint32Array
  /** Uint32Array, F: index into the model's materials. */
  readonly faceMaterials: Uint32Array
}

export interface ModelPart {
  readonly name: string
  /** Index of the part above it in the tree, −1 at the root. */
  readonly parent: number
}

export interface ModelMaterial {
  readonly name: string
  /** Display (sRGB-encoded) values, 0…1. */
  readonly baseColour: readonly [number, number, number]
  /** 0 is a mirror, 1 is chalk. */
  readonly roughness: number
  /** How strong the highlight is, 0…1. */
  readonly highlight: number
  /** 1 is solid, 0 lets everything through. */
  readonly opacity: number
  /** Display values of what it gives off by itself; black gives nothing. */
  readonly emission: readonly [number, number, number]
  /** The base colour's picture: index into the model's textures; null for none. */
  readonly texture: number | null
  /** What the picture's alpha means: nothing, in or out at a threshold, or a share. */
  readonly alpha: 'opaque' | 'cut' | 'blend'
  /** Threshold of `cut`, 0…1. */
  readonly alphaCut: number
}

/** What a material is where its file says nothing. */
export const PLAIN_MATERIAL: ModelMaterial = {
  name: 'unnamed',
  baseColour: [0.8, 0.8, 0.8],
  roughness: 0.6,
  highlight: 0.3,
  opacity: 1,
  emission: [0, 0, 0],
  texture: null,
  alpha: 'opaque',
  alphaCut: 0.5,
}

/** A picture a material names. */
export interface ModelTexture {
  readonly name: string
  /** The file as given (PNG, JPEG, WebP …); null where it is missing. */
  readonly bytes: Uint8Array<ArrayBuffer> | null
}

/** A camera a file brings, in the model's space. */
export interface ModelCamera {
  readonly name: string
  readonly camera: Camera
}

export interface ModelWarning {
  readonly code: string
  readonly message: string
  readonly part: string | null
}

/** One imported model: its parts, materials and one mesh for all of them. */
export interface Model {
  readonly name: string
  readonly parts: readonly ModelPart[]
  readonly materials: readonly ModelMaterial[]
  readonly mesh: PolygonMesh
  readonly warnings: readonly ModelWarning[]
  readonly textures: readonly ModelTexture[]
  readonly cameras: readonly ModelCamera[]
}

export const faceCount = (mesh: PolygonMesh): number => mesh.faceStarts.length - 1
export const vertexCount = (mesh: PolygonMesh): number => mesh.positions.length / 3
/** Bounding box of the vertices that faces use; null for a mesh without faces. */
export function meshBounds(mesh: PolygonMesh): Bounds | null {
  const { positions, cornerVertices } = mesh
  if (cornerVertices.length === 0) return null
  const min: [number, number, number] = [Infinity, Infinity, Infinity]
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  for (let c = 0; c < cornerVertices.length; c++) {
    for (let axis = 0; axis < 3; axis++) {
      const value = positions[3 * cornerVertices[c] + axis]
      if (value < min[axis]) min[axis] = value
      if (value > max[axis]) max[axis] = value
    }
  }
  return { min, max }
}

/** Polygons by number of sides: triangles, quads, more. */
export function polygonsBySides(mesh: PolygonMesh): { 3: number; 4: number; more: number } {
  const counts = { 3: 0, 4: 0, more: 0 }
  for (let f = 0; f < faceCount(mesh); f++) {
    const sides = mesh.faceStarts[f + 1] - mesh.faceStarts[f]
    if (sides === 3) counts[3]++
    else if (sides === 4) counts[4]++
    else counts.more++
  }
  return counts
}

/**
 * Checks what every other function relies on.
 * @throws {InvalidValueError} naming the array, the rule and the value.
 */
export function validateMesh(mesh: PolygonMesh): void {
  const faces = faceCount(mesh)
  const corners = mesh.cornerVertices.length
  const vertices = vertexCount(mesh)
  const expect = (ok: boolean, property: string, ruleText: string, got: unknown) => {
    if (!ok) throw new InvalidValueError(property, ruleText, got)
  }
  expect(mesh.faceStarts[0] === 0, 'faceStarts[0]', 'must be 0', mesh.faceStarts[0])
  expect(mesh.faceStarts[faces] === corners, 'faceStarts[F]', `must be ${corners}`, mesh.faceStarts[faces])
  expect(
    mesh.cornerNormals.length === 3 * corners,
    'cornerNormals',
    `must hold ${3 * corners}`,
    mesh.cornerNormals.length,
  )
  expect(mesh.faceParts.length === faces, 'faceParts', `must hold ${faces}`, mesh.faceParts.length)
  expect(
    mesh.faceMaterials.length === faces,
    'faceMaterials',
    `must hold ${faces}`,
    mesh.faceMaterials.length,
  )
  for (let f = 0; f < faces; f++) {
    const sides = mesh.faceStarts[f + 1] - mesh.faceStarts[f]
    expect(sides >= 3, `face ${f}`, 'must have at least 3 corners', sides)
  }
  for (let c = 0; c < corners; c++) {
    expect(
      mesh.cornerVertices[c] < vertices,
      `corner ${c}`,
      `must name a vertex below ${vertices}`,
      mesh.cornerVertices[c],
    )
  }
  for (let i = 0; i < mesh.positions.length; i++) {
    expect(Number.isFinite(mesh.positions[i]), `positions[${i}]`, 'must be finite', mesh.positions[i])
  }
}
