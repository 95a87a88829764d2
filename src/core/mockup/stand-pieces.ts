import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model, ModelMaterial } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'

/** Small solids that stands are made of. +Z faces the viewer. */

type Point = readonly [number, number, number]

export class StandPieces {
  private readonly builder = new MeshBuilder()
  private readonly materials = new Map<string, number>()

  constructor() {
    this.builder.parts.push({ name: 'Stand', parent: -1 })
  }

  get isEmpty(): boolean {
    return this.builder.faces === 0
  }

  /** A material of a name; one that is there already is taken as it is. @param colour display values. */
  material(name: string, colour: Point, look: Partial<ModelMaterial> = {}): number {
    const known = this.materials.get(name)
    if (known !== undefined) return known
    const { materials } = this.builder
    materials.push({ ...PLAIN_MATERIAL, highlight: 0.1, ...look, name, baseColour: [...colour] })
    this.materials.set(name, materials.length - 1)
    return materials.length - 1
  }

  /** Points on a path, each a ring of a tube. */
  private rings(rings: readonly Point[][], material: number, isClosed: boolean): void {
    const { builder } = this
    const n = rings[0].length
    const base = builder.vertexTotal
    for (const ring of rings) for (const point of ring) builder.positions.push3(...point)
    const last = isClosed ? rings.length : rings.length - 1
    for (let r = 0; r < last; r++)
      for (let i = 0; i < n; i++) {
        const [a, b] = [base + r * n, base + ((r + 1) % rings.length) * n]
        const j = (i + 1) % n
        builder.addFace([a + i, a + j, b + j, b + i], null, null, 0, material)
      }
    if (isClosed) return
    const end = base + (rings.length - 1) * n
    builder.addFace(
      Array.from({ length: n }, (_, i) => base + n - 1 - i),
      null,
      null,
      0,
      material,
    )
    builder.addFace(
      Array.from({ length: n }, (_, i) => end + i),
      null,
      null,
      0,
      material,
    )
  }

  /** A box whose edges towards the viewer are bevelled. */
  box([x0, y0, z0]: Point, [x1, y1, z1]: Point, bevel: number, material: number): void {
    const b = Math.min(bevel, (x1 - x0) / 2.01, (y1 - y0) / 2.01, z1 - z0)
    const ring = (inset: number, z: number): Point[] => [
      [x0 + inset, y0 + inset, z],
      [x1 - inset, y0 + inset, z],
      [x1 - inset, y1 - inset, z],
      [x0 + inset, y1 - inset, z],
    ]
    const rings =
      b > 0
        ? [ring(0, z0), ring(0, z1 - b), ring(0.3 * b, z1 - 0.3 * b), ring(b, z1)]
        : [ring(0, z0), ring(0, z1)]
    this.rings(rings, material, false)
  }

  /** A form turned about an axis towards the viewer. @param profile radius and z, from behind to the front. */
  turned(
    [x, y, z]: Point,
    profile: readonly (readonly [number, number])[],
    material: number,
    sides = 28,
  ): void {
    const rings = profile.map(([radius, along]) =>
      Array.from({ length: sides }, (_, i): Point => {
        const angle = (2 * Math.PI * i) / sides
        return [x + radius * Math.cos(angle), y + radius * Math.sin(angle), z + along]
      }),
    )
    this.rings(rings, material, false)
  }

  /** A round bar between two places across the picture. */
  bar([x0, y, z]: Point, x1: number, radius: number, material: number, sides = 24): void {
    const ring = (x: number) =>
      Array.from({ length: sides }, (_, i): Point => {
        const angle = (2 * Math.PI * i) / sides
        return [x, y + radius * Math.cos(angle), z + radius * Math.sin(angle)]
      })
    this.rings([ring(x0), ring(x1)], material, false)
  }

  /** A strip of a grid of places, row after row from the left to the right: tape, a lip. */
  strip(rows: readonly (readonly Point[])[], material: number): void {
    const { builder } = this
    const base = builder.vertexTotal
    const n = rows[0].length
    for (const row of rows) for (const point of row) builder.positions.push3(...point)
    for (let j = 0; j + 1 < rows.length; j++)
      for (let i = 0; i + 1 < n; i++) {
        const a = base + j * n + i
        builder.addFace([a, a + 1, a + n + 1, a + n], null, null, 0, material)
      }
  }

  /** A moulding round a rectangle, mitred. @param profile how far outside of it and how far to the front, once round. */
  moulding(
    [x0, y0]: readonly [number, number],
    [x1, y1]: readonly [number, number],
    profile: readonly (readonly [number, number])[],
    material: number,
  ): void {
    const corner = (x: number, y: number, sx: number, sy: number): Point[] =>
      profile.map(([out, z]): Point => [x + sx * out, y + sy * out, z])
    const corners = [
      corner(x0, y0, -1, -1),
      corner(x1, y0, 1, -1),
      corner(x1, y1, 1, 1),
      corner(x0, y1, -1, 1),
    ]
    this.rings(corners, material, true)
  }

  finish(name: string): Model {
    return this.builder.finish(name)
  }
}
