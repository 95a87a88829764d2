import type { Vec3 } from '@/core/math/vec3'
import { add, cross, length, normalize, scale, subtract } from '@/core/math/vec3'
import { seededRandom } from '@/core/math/sampling'

/** Polygons of one shape: points, and faces counter-clockwise seen from outside. */
export interface Shape {
  readonly points: Vec3[]
  readonly faces: number[][]
}

/** Joins shapes into one. */
export function join(...shapes: readonly Shape[]): Shape {
  const points: Vec3[] = []
  const faces: number[][] = []
  for (const shape of shapes) {
    const base = points.length
    points.push(...shape.points)
    faces.push(...shape.faces.map((face) => face.map((i) => i + base)))
  }
  return { points, faces }
}

export const mapPoints = (shape: Shape, change: (p: Vec3) => Vec3): Shape => ({
  points: shape.points.map(change),
  faces: shape.faces,
})
export const move = (shape: Shape, x: number, y: number, z: number): Shape =>
  mapPoints(shape, (p) => [p[0] + x, p[1] + y, p[2] + z])

/** The mirror image in the plane through the origin across an axis; faces keep looking outwards. */
export const mirrored = (shape: Shape, axis: 'x' | 'y' | 'z'): Shape => ({
  points: shape.points.map(([x, y, z]) =>
    axis === 'x' ? [-x, y, z] : axis === 'y' ? [x, -y, z] : [x, y, -z],
  ),
  faces: shape.faces.map((face) => face.slice().reverse()),
})

/** Turns about an axis through the origin, degrees, counter-clockwise seen from its tip. */
export function turn(shape: Shape, axis: 'x' | 'y' | 'z', deg: number): Shape {
  const c = Math.cos((deg * Math.PI) / 180)
  const s = Math.sin((deg * Math.PI) / 180)
  return mapPoints(shape, ([x, y, z]) =>
    axis === 'x'
      ? [x, c * y - s * z, s * y + c * z]
      : axis === 'y'
        ? [c * x + s * z, y, c * z - s * x]
        : [c * x - s * y, s * x + c * y, z],
  )
}

/** Closes an even ring with quads only, side to side. */
function capFaces(given: number[], start: number): number[][] {
  const n = given.length
  // Begin where the first quad closes a side between two bevels, so the middle quad runs straight across.
  const ring = given.map((_, i) => given[(i + start + n) % n])
  const faces: number[][] = []
  for (let i = 0; i < n / 2 - 1; i++) faces.push([ring[i], ring[i + 1], ring[n - 2 - i], ring[n - 1 - i]])
  return faces
}

/** Quads between rings of equal count, each counter-clockwise seen from the end; flat ends closed with quads. */
export function loft(rings: readonly Vec3[][], options: { closed?: boolean; caps?: boolean } = {}): Shape {
  const { closed = false, caps = true } = options
  const n = rings[0].length
  const points = rings.flat()
  const faces: number[][] = []
  const last = closed ? rings.length : rings.length - 1
  for (let r = 0; r < last; r++) {
    const a = r * n
    const b = ((r + 1) % rings.length) * n
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n
      faces.push([a + i, a + j, b + j, b + i])
    }
  }
  if (!closed && caps) {
    const first = Array.from({ length: n }, (_, i) => n - 1 - i)
    const end = Array.from({ length: n }, (_, i) => (rings.length - 1) * n + i)
    faces.push(...capFaces(first, -3), ...capFaces(end, 3))
  }
  return { points, faces }
}

export const circle = (radius: number, y: number, sides: number, phase = 0): Vec3[] =>
  Array.from({ length: sides }, (_, i) => {
    const angle = ((i + phase) / sides) * 2 * Math.PI
    return [radius * Math.cos(angle), y, -radius * Math.sin(angle)]
  })

/** Turns a profile of [radius, height] about +Y. */
export const lathe = (profile: readonly (readonly [number, number])[], sides = 32): Shape =>
  loft(profile.map(([r, y]) => circle(Math.max(r, 1e-4), y, sides)))

/** A regular octagon with flat sides to ±X and ±Z and each corner cut by `bevel`. */
export function octagon(apothem: number, y: number, bevel: number): Vec3[] {
  const radius = apothem / Math.cos(Math.PI / 8)
  const corners = circle(radius, y, 8, 0.5)
  return corners.flatMap((corner, i): Vec3[] => {
    const before = normalize(subtract(corners[(i + 7) % 8], corner))
    const after = normalize(subtract(corners[(i + 1) % 8], corner))
    return [add(corner, scale(before, bevel)), add(corner, scale(after, bevel))]
  })
}

/** An octagonal body from a profile of [apothem, height]. */
export const octagonal = (profile: readonly (readonly [number, number])[], bevel = 0.012): Shape =>
  loft(profile.map(([a, y]) => octagon(Math.max(a, 1e-3), y, Math.min(bevel, a * 0.3))))

const roundedRectangle = (w: number, d: number, y: number, b: number): Vec3[] => {
  const x = w / 2
  const z = d / 2
  return [
    [x, y, z - b],
    [x, y, -z + b],
    [x - b, y, -z],
    [-x + b, y, -z],
    [-x, y, -z + b],
    [-x, y, z - b],
    [-x + b, y, z],
    [x - b, y, z],
  ]
}

/** A box standing on y = 0 with every edge bevelled. */
export function bevelBox(w: number, h: number, d: number, bevel = 0.012): Shape {
  const b = Math.min(bevel, w / 3, h / 3, d / 3)
  return loft([
    roundedRectangle(w - 2 * b, d - 2 * b, 0, b * 0.4),
    roundedRectangle(w, d, b, b),
    roundedRectangle(w, d, h - b, b),
    roundedRectangle(w - 2 * b, d - 2 * b, h, b * 0.4),
  ])
}

/** A tube along a path. The frame is carried along without twisting. */
export function tube(
  path: readonly Vec3[],
  radius: number | ((share: number) => number),
  sides = 10,
  closed = false,
): Shape {
  const n = path.length
  const at = (i: number) => path[closed ? (i + n) % n : Math.min(n - 1, Math.max(0, i))]
  const direction = (i: number) => normalize(subtract(at(i + 1), at(i - 1)))
  let normal = normalize(cross(direction(0), Math.abs(direction(0)[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]))
  const rings = path.map((p, i): Vec3[] => {
    const d = direction(i)
    const along = normal[0] * d[0] + normal[1] * d[1] + normal[2] * d[2]
    normal = normalize(subtract(normal, scale(d, along)))
    const binormal = cross(d, normal)
    const r = typeof radius === 'number' ? radius : radius(i / (n - 1))
    return Array.from({ length: sides }, (_, k) => {
      const angle = (k / sides) * 2 * Math.PI
      return add(p, add(scale(normal, r * Math.cos(angle)), scale(binormal, r * Math.sin(angle))))
    })
  })
  return loft(rings, { closed })
}

/** Three strands laid round a path, as rope is. */
export function rope(path: readonly Vec3[], radius: number, layLength: number): Shape {
  const strands = [0, 1, 2].map((strand) => {
    let run = 0
    const centre = path.map((p, i): Vec3 => {
      if (i > 0) run += length(subtract(p, path[i - 1]))
      const d = normalize(subtract(path[Math.min(path.length - 1, i + 1)], path[Math.max(0, i - 1)]))
      const side = normalize(cross(d, Math.abs(d[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]))
      const up = cross(d, side)
      const angle = (run / layLength) * 2 * Math.PI + (strand * 2 * Math.PI) / 3
      return add(
        p,
        add(scale(side, 0.52 * radius * Math.cos(angle)), scale(up, 0.52 * radius * Math.sin(angle))),
      )
    })
    return tube(centre, radius * 0.54, 5)
  })
  return join(...strands)
}

/** Points of a smooth curve through the given ones (Catmull–Rom). */
export function curve(through: readonly Vec3[], perSpan: number): Vec3[] {
  const out: Vec3[] = []
  const at = (i: number) => through[Math.min(through.length - 1, Math.max(0, i))]
  for (let i = 0; i < through.length - 1; i++) {
    const [p0, p1, p2, p3] = [at(i - 1), at(i), at(i + 1), at(i + 2)]
    for (let k = 0; k < perSpan; k++) {
      const t = k / perSpan
      const blend = (axis: 0 | 1 | 2) =>
        0.5 *
        (2 * p1[axis] +
          (p2[axis] - p0[axis]) * t +
          (2 * p0[axis] - 5 * p1[axis] + 4 * p2[axis] - p3[axis]) * t * t +
          (3 * p1[axis] - p0[axis] - 3 * p2[axis] + p3[axis]) * t * t * t)
      out.push([blend(0), blend(1), blend(2)])
    }
  }
  out.push(through[through.length - 1])
  return out
}

/** A ball of quads: a cube whose faces are cut `cuts` times, blown up to radius 1. */
export function quadBall(cuts: number): Shape {
  const points: Vec3[] = []
  const faces: number[][] = []
  const known = new Map<string, number>()
  const put = (p: Vec3): number => {
    const key = p.map((v) => v.toFixed(5)).join()
    const there = known.get(key)
    if (there !== undefined) return there
    // Equal angles instead of equal lengths: the quads stay of like size.
    const bent = p.map((v) => Math.tan((v * Math.PI) / 4)) as unknown as Vec3
    known.set(key, points.length)
    return points.push(normalize(bent)) - 1
  }
  const sides: [Vec3, Vec3, Vec3][] = [
    [
      [0, 0, 1],
      [1, 0, 0],
      [0, 1, 0],
    ],
    [
      [0, 0, -1],
      [-1, 0, 0],
      [0, 1, 0],
    ],
    [
      [1, 0, 0],
      [0, 0, -1],
      [0, 1, 0],
    ],
    [
      [-1, 0, 0],
      [0, 0, 1],
      [0, 1, 0],
    ],
    [
      [0, 1, 0],
      [1, 0, 0],
      [0, 0, -1],
    ],
    [
      [0, -1, 0],
      [1, 0, 0],
      [0, 0, 1],
    ],
  ]
  for (const [out, u, v] of sides) {
    const corner = (i: number, j: number) =>
      put(add(out, add(scale(u, (2 * i) / cuts - 1), scale(v, (2 * j) / cuts - 1))))
    for (let i = 0; i < cuts; i++) {
      for (let j = 0; j < cuts; j++)
        faces.push([corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)])
    }
  }
  return { points, faces }
}

/** A sea-worn stone: a ball squeezed and dented by a few smooth waves. */
export function stone(seed: number, size: Vec3, cuts = 8): Shape {
  const random = seededRandom(seed)
  const waves = Array.from({ length: 5 }, () => ({
    d: normalize([random() - 0.5, random() - 0.5, random() - 0.5]),
    f: 1 + random() * 2.2,
    p: random() * 6.28,
    a: 0.05 + random() * 0.05,
  }))
  return mapPoints(quadBall(cuts), (p) => {
    const dent = waves.reduce(
      (sum, w) => sum + w.a * Math.sin(w.f * (p[0] * w.d[0] + p[1] * w.d[1] + p[2] * w.d[2]) * 2 + w.p),
      1,
    )
    return [p[0] * dent * size[0], p[1] * dent * size[1], p[2] * dent * size[2]]
  })
}

/** A strip of rectangular section along a path, as a standing seam; `out` points away from the surface at each point. */
export function strip(path: readonly Vec3[], out: readonly Vec3[], width: number, height: number): Shape {
  const rings = path.map((p, i): Vec3[] => {
    const d = normalize(subtract(path[Math.min(path.length - 1, i + 1)], path[Math.max(0, i - 1)]))
    const o = normalize(out[i])
    const side = normalize(cross(o, d))
    const place = (s: number, h: number) => add(p, add(scale(side, s * width * 0.5), scale(o, h)))
    return [
      place(1, -height),
      place(1, height * 0.8),
      place(0.55, height),
      place(-0.55, height),
      place(-1, height * 0.8),
      place(-1, -height),
    ]
  })
  return loft(rings.map((r) => r.slice().reverse()))
}
