import { describe, expect, it } from 'vitest'
import { KERNELS, kernelProblem } from '../../../scripts/kernel.mjs'
import { seededRandom } from '../math/sampling'
import { triangulate } from '../geometry/triangulate'
import { ball } from '../testing/shapes'
import { triangleSoup } from '../testing/triangle-soup'
import { buildPlainBvh } from './plain-bvh'
import { PlainKernel } from './plain-kernel'
import { buildRayTree, treeFromTransfer, treeToTransfer, validateRayTree } from './ray-tree'
import { BATCH_RAYS, HIT_NUMBERS, NO_SLOT, RAY_NUMBERS, TraceKernel } from './trace-kernel'

const tagged = (count: number, mask = 1) => new Uint32Array(count).fill(mask << 24)

it.each(KERNELS)('$written is what $entry compiles to', (kernel) => {
  expect(kernelProblem(kernel)).toBeNull()
})

/** Distance from a ray to the nearest side of a triangle, in the plane across the ray, and to its plane's grazing. */
function nearSide(vertices: Float32Array, id: number, o: readonly number[], d: readonly number[]): number {
  const corners = [0, 1, 2].map((k) => [0, 1, 2].map((axis) => vertices[9 * id + 3 * k + axis] - o[axis]))
  const flat = corners.map((c) => {
    const along = c[0] * d[0] + c[1] * d[1] + c[2] * d[2]
    return c.map((value, axis) => value - along * d[axis])
  })
  let nearest = Infinity
  for (let k = 0; k < 3; k++) {
    const a = flat[k]
    const b = flat[(k + 1) % 3]
    const side = b.map((value, axis) => value - a[axis])
    const squared = side[0] ** 2 + side[1] ** 2 + side[2] ** 2
    const t = squared > 0 ? -(a[0] * side[0] + a[1] * side[1] + a[2] * side[2]) / squared : 0
    const at = Math.min(1, Math.max(0, t))
    nearest = Math.min(nearest, Math.hypot(...a.map((value, axis) => value + at * side[axis])))
  }
  return nearest
}

/** Cosine between a triangle's normal and a direction; at least 1e-3. */
function facing(vertices: Float32Array, id: number, d: readonly number[]): number {
  const at = (k: number, axis: number) => vertices[9 * id + 3 * k + (axis % 3)]
  const normal = [0, 1, 2].map((axis) => {
    const [p, q] = [axis + 1, axis + 2]
    return (at(1, p) - at(0, p)) * (at(2, q) - at(0, q)) - (at(1, q) - at(0, q)) * (at(2, p) - at(0, p))
  })
  const length = Math.hypot(...normal) || 1
  return Math.max(1e-3, Math.abs(normal[0] * d[0] + normal[1] * d[1] + normal[2] * d[2]) / length)
}

interface Tally {
  rays: number
  hits: number
  /** Answers that differ although the ray passes no side of either triangle within rounding. */
  wrong: number
}

/** Compares the kernel with the plain one over rays that `aim` writes: origin, direction, nearest, farthest. */
function compare(
  vertices: Float32Array,
  size: number,
  rays: number,
  seed: number,
  aim: (random: () => number, i: number, out: Float64Array) => void,
): Tally {
  const total = vertices.length / 9
  const plain = new PlainKernel(buildPlainBvh(vertices, new Uint8Array(total).fill(1)))
  const kernel = TraceKernel.over(buildRayTree(vertices, tagged(total)))
  const random = seededRandom(seed)
  const ray = new Float64Array(8)
  const tally = { rays: 0, hits: 0, wrong: 0 }
  for (let start = 0; start < rays; start += BATCH_RAYS) {
    const count = Math.min(BATCH_RAYS, rays - start)
    for (let i = 0; i < count; i++) {
      aim(random, start + i, ray)
      kernel.put(i, ray[0], ray[1], ray[2], ray[4], ray[5], ray[6], ray[3], ray[7])
    }
    kernel.traceAny(count, 1)
    const blocked = kernel.blocked.slice(0, count)
    kernel.traceClosest(count, 1)
    for (let i = 0; i < count; i++) {
      const [ox, oy, oz, near, dx, dy, dz, far] = kernel.rays.subarray(RAY_NUMBERS * i, RAY_NUMBERS * (i + 1))
      const found = plain.closest(ox, oy, oz, dx, dy, dz, near, far, 1)
      const slot = kernel.hitSlots[HIT_NUMBERS * i]
      const distance = kernel.hits[HIT_NUMBERS * i + 1]
      tally.rays++
      if (found) tally.hits++
      // The two questions of the kernel always agree.
      if ((slot !== NO_SLOT) !== (blocked[i] !== 0)) tally.wrong++
      const reach = Math.max(Math.abs(ox), Math.abs(oy), Math.abs(oz), size)
      if (!found && slot === NO_SLOT) continue
      // Seen flat, a rounding across the ray is a longer one along it.
      const slack = found
        ? (2e-6 * reach) / facing(vertices, plain.bvh.triangleOrder[plain.triangle], [dx, dy, dz])
        : 0
      if (found && slot !== NO_SLOT && Math.abs(distance - plain.distance) <= slack) continue
      // They differ: allowed only where a side, or a limit of the ray, is within the rounding of 32 bits, or a triangle is
      // seen so flat that its distance is.
      const within = 4e-6 * reach
      const o = [ox, oy, oz]
      const d = [dx, dy, dz]
      const suspects: number[] = []
      if (found) suspects.push(plain.bvh.triangleOrder[plain.triangle])
      if (slot !== NO_SLOT) suspects.push(kernel.tree.ids[slot])
      const nearest = Math.min(...suspects.map((id) => nearSide(vertices, id, o, d)))
      const limits = [plain.distance, distance].map((t) => Math.min(Math.abs(t - far), Math.abs(t - near)))
      if (nearest > within && Math.min(...limits) > 2e-5 * reach) tally.wrong++
    }
  }
  return tally
}

const pointIn = (random: () => number, size: number, out: Float64Array, at: number) => {
  for (let axis = 0; axis < 3; axis++) out[at + axis] = (random() - 0.5) * 2 * size
}
const normaliseAt = (out: Float64Array, at: number) => {
  const len = Math.hypot(out[at], out[at + 1], out[at + 2]) || 1
  for (let axis = 0; axis < 3; axis++) out[at + axis] /= len
}

describe.each([1e-5, 1, 1e6])('against the plain kernel, scene size %d', (size) => {
  const vertices = triangleSoup(1500, 3, size)
  it('has a sound hierarchy', () =>
    expect(validateRayTree(buildRayTree(vertices, tagged(1500)), 1500)).toEqual([]))

  it('random rays, limits on both sides', () => {
    const tally = compare(vertices, size, 400_000, 11, (random, i, out) => {
      pointIn(random, size, out, 0)
      pointIn(random, 1, out, 4)
      normaliseAt(out, 4)
      out[3] = i % 3 === 0 ? 0.1 * size : 0
      out[7] = i % 4 === 0 ? 0.5 * size : 1e30
    })
    expect(tally.wrong).toBe(0)
    expect(tally.hits).toBeGreaterThan(60_000)
  })

  it('rays along the axes and in their planes', () => {
    const tally = compare(vertices, size, 150_000, 12, (random, i, out) => {
      pointIn(random, size, out, 0)
      pointIn(random, 1, out, 4)
      out[4 + (i % 3)] = 0
      if (i % 2 === 0) out[4 + ((i + 1) % 3)] = i % 4 === 0 ? 0 : -0
      normaliseAt(out, 4)
      out[3] = 0
      out[7] = 1e30
    })
    expect(tally.wrong).toBe(0)
    expect(tally.hits).toBeGreaterThan(20_000)
  })

  it('rays at corners, sides and along faces', () => {
    const tally = compare(vertices, size, 150_000, 13, (random, i, out) => {
      pointIn(random, size, out, 0)
      const t = Math.floor(random() * 1500)
      const corner = Math.floor(random() * 3)
      const share = i % 2 === 0 ? 0 : random()
      for (let axis = 0; axis < 3; axis++) {
        const a = vertices[9 * t + 3 * corner + axis]
        const b = vertices[9 * t + 3 * ((corner + 1) % 3) + axis]
        // Every third ray begins on the side's other end and runs along it.
        if (i % 3 === 0) out[axis] = b + (b - a) * 3
        out[4 + axis] = a + (b - a) * share - out[axis]
      }
      // A side without length gives no direction.
      if (out[4] === 0 && out[5] === 0 && out[6] === 0) out[4] = 1
      normaliseAt(out, 4)
      out[3] = 0
      out[7] = 1e30
    })
    expect(tally.wrong).toBe(0)
    expect(tally.hits).toBeGreaterThan(20_000)
  })
})

it('agrees far from the origin of the world', () => {
  const vertices = triangleSoup(800, 5, 1).map((value) => value + 1000)
  const tally = compare(vertices, 1000, 100_000, 14, (random, _i, out) => {
    pointIn(random, 2, out, 0)
    for (let axis = 0; axis < 3; axis++) out[axis] += 1000
    pointIn(random, 1, out, 4)
    normaliseAt(out, 4)
    out[3] = 0
    out[7] = 1e30
  })
  expect(tally.wrong).toBe(0)
})

describe('a closed ball', () => {
  const mesh = ball(1, 64)
  const { corners } = triangulate(mesh)
  const vertices = new Float32Array(3 * corners.length)
  corners.forEach((c, i) =>
    vertices.set(mesh.positions.subarray(3 * mesh.cornerVertices[c], 3 * mesh.cornerVertices[c] + 3), 3 * i),
  )
  const total = vertices.length / 9
  const kernel = TraceKernel.over(buildRayTree(vertices, tagged(total)))

  it('lets no ray out: through vertices, along and across sides, from anywhere inside', () => {
    const random = seededRandom(2)
    let missed = 0
    let count = 0
    const flush = () => {
      kernel.traceAny(count, 1)
      for (let i = 0; i < count; i++) missed += 1 - kernel.blocked[i]
      count = 0
    }
    for (let i = 0; i < 1_000_000; i++) {
      const t = Math.floor(random() * total)
      const side = Math.floor(random() * 3)
      const share = i % 4 === 0 ? 0 : random()
      const o = i % 2 ? [0, 0, 0] : [random() - 0.5, random() - 0.5, random() - 0.5]
      const d = [0, 1, 2].map((axis) => {
        const a = vertices[9 * t + 3 * side + axis]
        return a + (vertices[9 * t + 3 * ((side + 1) % 3) + axis] - a) * share - o[axis]
      })
      kernel.put(count++, o[0], o[1], o[2], d[0], d[1], d[2], 0, 1e30)
      if (count === BATCH_RAYS) flush()
    }
    flush()
    expect(missed).toBe(0)
  })

  it('gives weights that lead back to the place', () => {
    kernel.closest(0, 0, 0, 0.3, 0.5, 0.8, 0, 10, 1)
    const at = kernel.tree.cornerBase(kernel.slot)
    const { floats } = kernel.tree
    const w = 1 - kernel.u - kernel.v
    const place = [0, 1, 2].map(
      (axis) =>
        w * floats[at + 4 * axis] +
        kernel.u * floats[at + 12 + 4 * axis] +
        kernel.v * floats[at + 24 + 4 * axis],
    )
    place.forEach((value, axis) => expect(value).toBeCloseTo(kernel.distance * [0.3, 0.5, 0.8][axis], 6))
  })
})

it('meets only what shares a bit and is in the list of parts', () => {
  const vertices = Float32Array.of(-1, 0, -1, 1, 0, -1, 0, 0, 2, -1, -1, -1, 1, -1, -1, 0, -1, 2)
  const kernel = TraceKernel.over(buildRayTree(vertices, Uint32Array.of((2 << 24) | 0, (3 << 24) | 1)))
  const down = (mask: number, parts: Uint8Array | null = null) =>
    kernel.closest(0, 1, 0, 0, -1, 0, 0, 10, mask, parts) ? kernel.distance : null
  expect(down(2)).toBeCloseTo(1)
  expect(down(1)).toBeCloseTo(2)
  expect(down(4)).toBeNull()
  expect(down(2, Uint8Array.of(0, 1))).toBeCloseTo(2)
  expect(down(2, Uint8Array.of(0, 0))).toBeNull()
  expect(kernel.isBlocked(0, 1, 0, 0, -1, 0, 0, 1.5, 1)).toBe(false)
  expect(kernel.isBlocked(0, 1, 0, 0, -1, 0, 0, 2.5, 1)).toBe(true)
})

it.each([1e-5, 1, 1e6])(
  'spares a look at what no part of a list can be, and finds the same, scene size %d',
  (size) => {
    const vertices = triangleSoup(600, 5, size)
    // Three parts near corners of the scene, and a flat one; their bit says what the list says, by another way.
    const listed = Uint8Array.of(1, 0, 1, 0)
    const tags = Uint32Array.from({ length: 600 }, (_, t) => {
      const part = t % 4
      for (let k = 0; k < 9; k++) vertices[9 * t + k] = 0.2 * vertices[9 * t + k] + (part - 1.5) * 0.5 * size
      if (part === 2)
        for (let corner = 0; corner < 3; corner++) vertices[9 * t + 3 * corner + 1] = 0.25 * size
      return ((listed[part] ? 3 : 1) << 24) | part
    })
    const kernel = TraceKernel.over(buildRayTree(vertices, tags))
    const random = seededRandom(31)
    const ray = new Float64Array(6)
    let met = 0
    for (let i = 0; i < 60_000; i++) {
      pointIn(random, 1.5 * size, ray, 0)
      // Every other one looks at a place of a part; every fifth runs level or upright.
      pointIn(random, 1, ray, 3)
      if (i % 2 === 0) {
        const at = 9 * Math.floor(random() * 600)
        for (let axis = 0; axis < 3; axis++) ray[3 + axis] = vertices[at + axis] - ray[axis]
      }
      if (i % 5 === 0) ray[3 + (i % 3)] = 0
      normaliseAt(ray.subarray(3), 0)
      const [ox, oy, oz, dx, dy, dz] = ray
      const near = i % 3 === 0 ? 0.2 * size : 0
      const far = i % 7 === 0 ? size : 1e30
      const ask = (mask: number, parts: Uint8Array | null) => {
        const hit = kernel.closest(ox, oy, oz, dx, dy, dz, near, far, mask, parts)
        const found = [kernel.slot, kernel.distance, kernel.u, kernel.v]
        return [...(hit ? found : [-1]), kernel.isBlocked(ox, oy, oz, dx, dy, dz, near, far, mask, parts)]
      }
      const found = ask(1, listed)
      if (found[0] !== -1) met++
      const same = ask(2, null)
      if (found.some((value, k) => value !== same[k])) expect(found).toEqual(same)
    }
    expect(met).toBeGreaterThan(5000)
  },
)

describe('cut-outs', () => {
  // A square card of two triangles across the z axis, with a picture that is there on its left half only.
  const vertices = Float32Array.of(-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, -1, 0, 1, 1, 0, -1, 1, 0)
  const uvs = Float32Array.of(0, 1, 1, 1, 1, 0, 0, 1, 1, 0, 0, 0)
  const cardWith = (alpha: number[], threshold: number | null, ofTriangle = [0, 0]) =>
    TraceKernel.over(
      buildRayTree(vertices, tagged(2), {
        cutouts: {
          pictures: [{ width: alpha.length, height: 1, alpha: Uint8Array.from(alpha), threshold }],
          ofTriangle: Int32Array.from(ofTriangle),
          uvs,
        },
      }),
    )
  it('let rays through where the picture is away, for both questions', () => {
    const kernel = cardWith([255, 255, 0, 0], 0.5)
    expect(kernel.closest(-0.5, 0.2, 5, 0, 0, -1, 0, 10, 1)).toBe(true)
    expect(kernel.closest(0.5, 0.2, 5, 0, 0, -1, 0, 10, 1)).toBe(false)
    expect(kernel.isBlocked(-0.5, 0.2, 5, 0, 0, -1, 0, 10, 1)).toBe(true)
    expect(kernel.isBlocked(0.5, -0.2, 5, 0, 0, -1, 0, 10, 1)).toBe(false)
  })
  it('leave triangles without a picture whole', () => {
    const kernel = cardWith([0, 0, 0, 0], 0.5, [-1, 0])
    expect(kernel.isBlocked(0.5, -0.5, 5, 0, 0, -1, 0, 10, 1)).toBe(true)
    expect(kernel.isBlocked(-0.5, 0.5, 5, 0, 0, -1, 0, 10, 1)).toBe(false)
  })
  it('by chance let through their share of many rays, and each ray always alike', () => {
    const kernel = cardWith([77, 77, 77, 77], null)
    const random = seededRandom(4)
    for (let i = 0; i < BATCH_RAYS; i++)
      kernel.put(i, random() - 0.5, random() - 0.5, 5, 0.01 * random(), 0, -1, 0, 10)
    kernel.traceAny(BATCH_RAYS, 1)
    const first = kernel.blocked.slice()
    kernel.traceAny(BATCH_RAYS, 1)
    expect(kernel.blocked).toEqual(first)
    const share = first.reduce((sum, b) => sum + b, 0) / BATCH_RAYS
    // Three standard deviations of 16,384 throws.
    expect(Math.abs(share - 77 / 255)).toBeLessThan(3 * Math.sqrt((0.3 * 0.7) / BATCH_RAYS))
  })
})

it('holds thousands of triangles in one place, and slivers and points', () => {
  const vertices = new Float32Array(9 * 9000)
  for (let t = 0; t < 5000; t++) vertices.set([0, 0, 0, 1, 0, 0, 0, 1, 0], 9 * t)
  for (let t = 5000; t < 9000; t++) vertices.set([t, t, t, t, t, t, t, t, t + (t % 2)], 9 * t)
  const tree = buildRayTree(vertices, tagged(9000))
  expect(validateRayTree(tree, 9000)).toEqual([])
  expect(TraceKernel.over(tree).closest(0.2, 0.2, 1, 0, 0, -1, 0, 5, 1)).toBe(true)
})

it('is the same tree on another thread, shared or copied', () => {
  const vertices = triangleSoup(200, 8, 1)
  for (const shared of [true, false]) {
    const tree = buildRayTree(vertices, tagged(200), { shared })
    const transfer = treeToTransfer(tree)
    expect(transfer.kind).toBe(shared ? 'shared' : 'bytes')
    const copy = treeFromTransfer(transfer)
    expect(copy.ids).toEqual(tree.ids)
    const [a, b] = [TraceKernel.over(tree), TraceKernel.over(copy)]
    expect(a.closest(0, 0, 5, 0.01, 0.02, -1, 0, 10, 1)).toBe(b.closest(0, 0, 5, 0.01, 0.02, -1, 0, 10, 1))
    expect(a.distance).toBe(b.distance)
  }
})

it('refuses an empty scene', () => {
  expect(() => buildRayTree(new Float32Array(0), new Uint32Array(0))).toThrow(/at least one triangle/)
})
