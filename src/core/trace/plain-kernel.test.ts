import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { ball } from '../testing/shapes'
import { triangulate } from '../geometry/triangulate'
import { triangleSoup } from '../testing/triangle-soup'
import { buildPlainBvh, validatePlainBvh } from './plain-bvh'
import { PlainKernel } from './plain-kernel'

/** Möller–Trumbore over every triangle: what the hierarchy must agree with. */
function bruteForce(vertices: Float32Array, o: number[], d: number[], min: number, max: number): number {
  let best = max
  for (let i = 0; i < vertices.length; i += 9) {
    const e1 = [0, 1, 2].map((k) => Math.fround(vertices[i + 3 + k] - vertices[i + k]))
    const e2 = [0, 1, 2].map((k) => Math.fround(vertices[i + 6 + k] - vertices[i + k]))
    const p = [d[1] * e2[2] - d[2] * e2[1], d[2] * e2[0] - d[0] * e2[2], d[0] * e2[1] - d[1] * e2[0]]
    const det = e1[0] * p[0] + e1[1] * p[1] + e1[2] * p[2]
    if (det === 0) continue
    const s = [0, 1, 2].map((k) => o[k] - vertices[i + k])
    const u = (s[0] * p[0] + s[1] * p[1] + s[2] * p[2]) / det
    const q = [s[1] * e1[2] - s[2] * e1[1], s[2] * e1[0] - s[0] * e1[2], s[0] * e1[1] - s[1] * e1[0]]
    const v = (d[0] * q[0] + d[1] * q[1] + d[2] * q[2]) / det
    if (u < -1e-9 || v < -1e-9 || u + v > 1 + 1e-9) continue
    const t = (e2[0] * q[0] + e2[1] * q[1] + e2[2] * q[2]) / det
    if (t > min && t < best) best = t
  }
  return best
}

describe.each([1e-3, 1, 1e5])('kernel against brute force, scene size %d', (size) => {
  const vertices = triangleSoup(400, 3, size)
  const bvh = buildPlainBvh(vertices, new Uint8Array(400).fill(1))
  const kernel = new PlainKernel(bvh)
  it('has a sound hierarchy', () => expect(validatePlainBvh(bvh)).toEqual([]))
  it('finds the same closest distance and the same blocking, axis-parallel rays too', () => {
    const random = seededRandom(9)
    let hits = 0
    for (let i = 0; i < 4000; i++) {
      const o = [0, 1, 2].map(() => (random() - 0.5) * 2 * size)
      let d = [0, 1, 2].map(() => random() - 0.5)
      if (i % 5 === 0) d = [0, 1, 2].map((k) => (k === i % 3 ? (i % 2 ? 1 : -1) : 0))
      const len = Math.hypot(...d)
      d = d.map((v) => v / len)
      const max = i % 4 === 0 ? 0.5 * size : 1e30
      const expected = bruteForce(vertices, o, d, 0, max)
      const found = kernel.closest(o[0], o[1], o[2], d[0], d[1], d[2], 0, max, 1)
      expect(found ? kernel.distance : max).toBeCloseTo(expected, expected < 1e29 ? 9 - Math.log10(size) : 0)
      expect(kernel.blocked(o[0], o[1], o[2], d[0], d[1], d[2], 0, max, 1)).toBe(expected < max)
      if (found) hits++
    }
    expect(hits).toBeGreaterThan(300)
  })
})

it('passes what does not share a mask bit', () => {
  const bvh = buildPlainBvh(Float32Array.of(-1, 0, -1, 1, 0, -1, 0, 0, 2), Uint8Array.of(2))
  const kernel = new PlainKernel(bvh)
  expect(kernel.blocked(0, 1, 0, 0, -1, 0, 0, 10, 1)).toBe(false)
  expect(kernel.blocked(0, 1, 0, 0, -1, 0, 0, 10, 3)).toBe(true)
})

it('has no pinholes in a closed ball: rays through vertices, edges and faces all meet it', () => {
  const mesh = ball(1, 24)
  const { corners } = triangulate(mesh)
  const vertices = new Float32Array(3 * corners.length)
  corners.forEach((c, i) =>
    vertices.set(mesh.positions.subarray(3 * mesh.cornerVertices[c], 3 * mesh.cornerVertices[c] + 3), 3 * i),
  )
  const kernel = new PlainKernel(buildPlainBvh(vertices, new Uint8Array(corners.length / 3).fill(1)))
  const aim = (p: number[]) => {
    const len = Math.hypot(...p)
    return kernel.blocked(0, 0, 0, p[0] / len, p[1] / len, p[2] / len, 0, 2, 1)
  }
  let missed = 0
  for (let i = 0; i < vertices.length; i += 9) {
    const at = (k: number) => Array.from(vertices.subarray(i + 3 * k, i + 3 * k + 3))
    const [a, b] = [at(0), at(1)]
    if (!aim(a)) missed++
    for (const t of [0.25, 0.5, 0.75]) if (!aim(a.map((v, k) => v + (b[k] - v) * t))) missed++
  }
  expect(missed).toBe(0)
})

it('never makes a leaf or a stack it cannot hold: thousands of triangles in one place', () => {
  const vertices = new Float32Array(9 * 5000)
  for (let t = 0; t < 5000; t++) vertices.set([0, 0, 0, 1, 0, 0, 0, 1, 0], 9 * t)
  const bvh = buildPlainBvh(vertices, new Uint8Array(5000).fill(1))
  expect(validatePlainBvh(bvh)).toEqual([])
  expect(new PlainKernel(bvh).closest(0.2, 0.2, 1, 0, 0, -1, 0, 5, 1)).toBe(true)
})
