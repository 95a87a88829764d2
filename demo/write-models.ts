import { Document, NodeIO } from '@gltf-transform/core'
import { weldPositions } from '@/core/geometry/weld'
import { faceNormals } from '@/core/geometry/face-normals'
import { triangulate } from '@/core/geometry/triangulate'
import type { PolygonMesh } from '@/core/geometry/polygon-mesh'
import { parseHex, srgbToLinear } from '@/core/math/colour'
import type { HarbourPart } from './harbour/harbour-part'
import type { Shape } from './modelling-kit'

const linear = (hex: string): [number, number, number] => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}

/** A shape as arrays, with normals weighted by area inside 40°, so broad faces stay flat and bevels round over. */
function toMesh(shape: Shape): PolygonMesh {
  const positions = Float32Array.from(shape.points.flatMap((p) => p.map((v) => Number(v.toFixed(4)))))
  const faceStarts = new Uint32Array(shape.faces.length + 1)
  shape.faces.forEach((face, i) => (faceStarts[i + 1] = faceStarts[i] + face.length))
  const cornerVertices = Uint32Array.from(shape.faces.flat())
  const flat = faceNormals({ positions, faceStarts, cornerVertices })
  const { welded, count } = weldPositions(positions)
  const around: number[][] = Array.from({ length: count }, () => [])
  const areas = shape.faces.map((face) => {
    let area = 0
    for (let k = 2; k < face.length; k++) {
      const [a, b, c] = [face[0], face[k - 1], face[k]].map((i) => shape.points[i])
      const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]]
      const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]]
      area += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0])
    }
    return area
  })
  shape.faces.forEach((face, f) => face.forEach((v) => around[welded[v]].push(f)))
  const cornerNormals = new Float32Array(3 * cornerVertices.length)
  const limit = Math.cos((40 * Math.PI) / 180)
  shape.faces.forEach((face, f) => {
    face.forEach((v, k) => {
      const sum = [0, 0, 0]
      for (const g of around[welded[v]]) {
        const cosine =
          flat[3 * f] * flat[3 * g] + flat[3 * f + 1] * flat[3 * g + 1] + flat[3 * f + 2] * flat[3 * g + 2]
        if (cosine < limit) continue
        for (let axis = 0; axis < 3; axis++) sum[axis] += flat[3 * g + axis] * areas[g]
      }
      const len = Math.hypot(sum[0], sum[1], sum[2]) || 1
      cornerNormals.set(
        sum.map((s) => s / len),
        3 * (faceStarts[f] + k),
      )
    })
  })
  const none = new Uint32Array(shape.faces.length)
  return {
    positions,
    faceStarts,
    cornerVertices,
    cornerNormals,
    cornerUvs: null,
    cornerColours: null,
    faceParts: none,
    faceMaterials: none,
  }
}

/** The parts as a Wavefront OBJ with its material library. */
export function writeObjFiles(
  parts: readonly HarbourPart[],
  materials: Readonly<Record<string, string>>,
  library: string,
) {
  const lines = ['# Pell Harbour. Metres, +Y up.', `mtllib ${library}`]
  const number = (v: number) => String(Number(v.toFixed(4)))
  let vertexBase = 1
  let normalBase = 1
  for (const part of parts) {
    const mesh = toMesh(part.shape)
    lines.push(`o ${part.name}`)
    for (let i = 0; i < mesh.positions.length; i += 3) {
      lines.push(
        `v ${number(mesh.positions[i])} ${number(mesh.positions[i + 1])} ${number(mesh.positions[i + 2])}`,
      )
    }
    const known = new Map<string, number>()
    const normalOf: number[] = []
    for (let c = 0; c < mesh.cornerNormals.length; c += 3) {
      const text = [0, 1, 2].map((k) => String(Number(mesh.cornerNormals[c + k].toFixed(3)))).join(' ')
      let index = known.get(text)
      if (index === undefined) {
        index = normalBase + known.size
        known.set(text, index)
        lines.push(`vn ${text}`)
      }
      normalOf.push(index)
    }
    lines.push(`usemtl ${part.material}`)
    let corner = 0
    for (const face of part.shape.faces)
      lines.push(`f ${face.map((v) => `${v + vertexBase}//${normalOf[corner++]}`).join(' ')}`)
    vertexBase += part.shape.points.length
    normalBase += known.size
  }
  const mtl = Object.entries(materials).map(
    ([name, hex]) =>
      `newmtl ${name}\nKd ${linear(hex)
        .map((v) => v.toFixed(5))
        .join(' ')}\n`,
  )
  return { obj: lines.join('\n') + '\n', mtl: mtl.join('\n') }
}

/** The parts as a GLB: triangles, one node and mesh per part. */
export async function writeGlb(
  parts: readonly HarbourPart[],
  materials: Readonly<Record<string, string>>,
): Promise<Uint8Array> {
  const document = new Document()
  const buffer = document.createBuffer()
  const scene = document.createScene('Pell Harbour')
  const made = new Map(
    Object.entries(materials).map(([name, hex]) => [
      name,
      document
        .createMaterial(name)
        .setBaseColorFactor([...linear(hex), 1])
        .setRoughnessFactor(0.8)
        .setMetallicFactor(0),
    ]),
  )
  for (const part of parts) {
    const mesh = toMesh(part.shape)
    const { corners } = triangulate(mesh)
    const known = new Map<string, number>()
    const positions: number[] = []
    const normals: number[] = []
    const indices: number[] = []
    for (const c of corners) {
      const v = mesh.cornerVertices[c]
      const p = Array.from(mesh.positions.subarray(3 * v, 3 * v + 3))
      const n = Array.from(mesh.cornerNormals.subarray(3 * c, 3 * c + 3))
      const key = [...p, ...n].map((x) => x.toFixed(4)).join()
      let index = known.get(key)
      if (index === undefined) {
        index = known.size
        known.set(key, index)
        positions.push(...p)
        normals.push(...n)
      }
      indices.push(index)
    }
    const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
      document
        .createAccessor()
        .setType(type)
        .setArray(new (array.constructor as Float32ArrayConstructor)(array))
        .setBuffer(buffer)
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', Float32Array.from(positions)))
      .setAttribute('NORMAL', accessor('VEC3', Float32Array.from(normals)))
      .setIndices(accessor('SCALAR', Uint32Array.from(indices)))
      .setMaterial(made.get(part.material) ?? null)
    scene.addChild(
      document.createNode(part.name).setMesh(document.createMesh(part.name).addPrimitive(primitive)),
    )
  }
  return new NodeIO().writeBinary(document)
}
