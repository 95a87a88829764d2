import { z } from 'zod'

/**
 * Where a model stands: scaled along its own axes, rolled about Z, tilted about X, turned about Y, then moved.
 */
export const placementSchema = z.object({
  position: z.tuple([z.number(), z.number(), z.number()]),
  /** Degrees: tilt about X, turn about Y, roll about Z. */
  rotationDeg: z.tuple([z.number(), z.number(), z.number()]),
  scale: z.tuple([z.number().positive(), z.number().positive(), z.number().positive()]),
})
export type Placement = z.infer<typeof placementSchema>

export const AT_ORIGIN: Placement = { position: [0, 0, 0], rotationDeg: [0, 0, 0], scale: [1, 1, 1] }

export const MOST_COPIES = 1000

/** How often a model stands in the scene: once, along a line, on a grid, or round a ring about its own place. */
export const copiesSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('one') }),
  z.object({
    kind: z.literal('row'),
    count: z.number().int().min(1).max(MOST_COPIES),
    /** World units from one copy to the next. */
    step: z.tuple([z.number(), z.number(), z.number()]),
  }),
  z.object({
    kind: z.literal('grid'),
    columns: z.number().int().min(1).max(31),
    rows: z.number().int().min(1).max(31),
    stepX: z.number(),
    stepZ: z.number(),
  }),
  z.object({
    kind: z.literal('ring'),
    count: z.number().int().min(1).max(MOST_COPIES),
    /** World units from the ring's middle, which is the model's place, to each copy. */
    radius: z.number().min(0),
    sweepDeg: z.number().min(0).max(360),
    /** Copies turn with the ring. */
    turning: z.boolean(),
  }),
])
export type Copies = z.infer<typeof copiesSchema>

/**
 * An affine map, 12 numbers: three rows of four. x' = m0·x + m1·y + m2·z + m3, and so on.
 */
export type Affine = readonly number[]

export const IDENTITY: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]

const toRad = (degrees: number): number => (degrees * Math.PI) / 180

/** @param a applied after `b`. */
export function multiply(a: Affine, b: Affine): Affine {
  const out = new Array<number>(12)
  for (let row = 0; row < 3; row++) {
    for (let column = 0; column < 4; column++) {
      let sum = column === 3 ? a[4 * row + 3] : 0
      for (let k = 0; k < 3; k++) sum += a[4 * row + k] * b[4 * k + column]
      out[4 * row + column] = sum
    }
  }
  return out
}

/** The map from a model's own space to the world. */
export function placementMatrix({ position, rotationDeg, scale }: Placement): Affine {
  const [ax, ay, az] = rotationDeg.map(toRad)
  const [cx, sx, cy, sy, cz, sz] = [
    Math.cos(ax),
    Math.sin(ax),
    Math.cos(ay),
    Math.sin(ay),
    Math.cos(az),
    Math.sin(az),
  ]
  // Ry · Rx · Rz.
  const r = [
    cy * cz + sy * sx * sz,
    -cy * sz + sy * sx * cz,
    sy * cx,
    cx * sz,
    cx * cz,
    -sx,
    -sy * cz + cy * sx * sz,
    sy * sz + cy * sx * cz,
    cy * cx,
  ]
  const out: number[] = []
  for (let row = 0; row < 3; row++) {
    out.push(r[3 * row] * scale[0], r[3 * row + 1] * scale[1], r[3 * row + 2] * scale[2], position[row])
  }
  return out
}

const moved = (matrix: Affine, x: number, y: number, z: number): Affine =>
  multiply([1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z], matrix)

/** One map per copy of a model, the first of a row or grid at its own place. */
export function copyMatrices(placement: Placement, copies: Copies): Affine[] {
  const own = placementMatrix(placement)
  switch (copies.kind) {
    case 'one':
      return [own]
    case 'row':
      return Array.from({ length: copies.count }, (_, i) =>
        moved(own, ...(copies.step.map((s) => s * i) as [number, number, number])),
      )
    case 'grid':
      return Array.from({ length: copies.columns * copies.rows }, (_, i) =>
        moved(own, copies.stepX * (i % copies.columns), 0, copies.stepZ * Math.floor(i / copies.columns)),
      )
    case 'ring': {
      const [x, y, z] = placement.position
      const atOrigin = placementMatrix({ ...placement, position: [0, 0, 0] })
      // A whole ring does not put its last copy on its first.
      const gaps = copies.sweepDeg >= 360 ? copies.count : Math.max(1, copies.count - 1)
      return Array.from({ length: copies.count }, (_, i) => {
        const angle = toRad((copies.sweepDeg * i) / gaps)
        const [c, s] = [Math.cos(angle), Math.sin(angle)]
        const turned = copies.turning ? multiply([c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0], atOrigin) : atOrigin
        return moved(turned, x + s * copies.radius, y, z + c * copies.radius)
      })
    }
  }
}

/** Writes the mapped point to `out`. */
export function mapPoint(m: Affine, x: number, y: number, z: number, out: number[]): void {
  out[0] = m[0] * x + m[1] * y + m[2] * z + m[3]
  out[1] = m[4] * x + m[5] * y + m[6] * z + m[7]
  out[2] = m[8] * x + m[9] * y + m[10] * z + m[11]
}

/** What maps normals along with the points of `m`: its cofactors, 9 numbers in three rows. Not of unit length. */
export const normalMatrix = (m: Affine): readonly number[] => [
  m[5] * m[10] - m[6] * m[9],
  m[6] * m[8] - m[4] * m[10],
  m[4] * m[9] - m[5] * m[8],
  m[2] * m[9] - m[1] * m[10],
  m[0] * m[10] - m[2] * m[8],
  m[1] * m[8] - m[0] * m[9],
  m[1] * m[6] - m[2] * m[5],
  m[2] * m[4] - m[0] * m[6],
  m[0] * m[5] - m[1] * m[4],
]

/** Writes the mapped unit normal to `out`; a normal without length stays without. */
export function mapNormal(n: readonly number[], x: number, y: number, z: number, out: number[]): void {
  const a = n[0] * x + n[1] * y + n[2] * z
  const b = n[3] * x + n[4] * y + n[5] * z
  const c = n[6] * x + n[7] * y + n[8] * z
  const len = Math.sqrt(a * a + b * b + c * c)
  const factor = len > 0 ? 1 / len : 0
  out[0] = a * factor
  out[1] = b * factor
  out[2] = c * factor
}
