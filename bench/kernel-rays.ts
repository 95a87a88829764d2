import { cpus } from 'node:os'
import * as THREE from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { concentricDisc, seededRandom } from '@/core/math/sampling'
import { buildBvh } from '@/core/trace/build-bvh'
import { RayKernel } from '@/core/trace/ray-kernel'

/**
 * Rays per second of the kernel, single thread, beside three-mesh-bvh on the same rays; medians of interleaved rounds.
 */

/** A dented ball of about `triangles` triangles: 9 numbers each. */
function dentedBall(triangles: number): Float32Array {
  const rows = Math.round(Math.sqrt(triangles / 4))
  const columns = rows * 2
  const at = (i: number, j: number): [number, number, number] => {
    const theta = (i / rows) * Math.PI
    const phi = (j / columns) * 2 * Math.PI
    const r = 1 + 0.15 * Math.sin(9 * theta) * Math.cos(7 * phi) + 0.04 * Math.sin(31 * phi) * Math.sin(theta)
    return [r * Math.sin(theta) * Math.cos(phi), r * Math.cos(theta), r * Math.sin(theta) * Math.sin(phi)]
  }
  const out: number[] = []
  for (let i = 0; i < rows; i++) {
    for (let j = 0; j < columns; j++) {
      const [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]
      if (i > 0) out.push(...a, ...d, ...c)
      if (i < rows - 1) out.push(...a, ...c, ...b)
    }
  }
  return Float32Array.from(out)
}

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

interface Rays {
  readonly origins: Float64Array
  readonly directions: Float64Array
  readonly maxDistance: number
}

function primaryRays(side: number): Rays {
  const origins = new Float64Array(3 * side * side)
  const directions = new Float64Array(3 * side * side)
  for (let i = 0; i < side * side; i++) {
    const x = ((i % side) + 0.5) / side - 0.5
    const y = Math.floor(i / side) / side - 0.5
    const len = Math.hypot(x * 0.8, y * 0.8, 1)
    origins.set([0, 0, 3.2], 3 * i)
    directions.set([(x * 0.8) / len, (y * 0.8) / len, -1 / len], 3 * i)
  }
  return { origins, directions, maxDistance: 1e30 }
}

function occlusionRays(kernel: RayKernel, primary: Rays, reach: number): Rays {
  const random = seededRandom(5)
  const origins: number[] = []
  const directions: number[] = []
  const disc = new Float64Array(2)
  const n = primary.origins.length / 3
  for (let i = 0; i < n; i++) {
    const [ox, oy, oz] = primary.origins.subarray(3 * i, 3 * i + 3)
    const [dx, dy, dz] = primary.directions.subarray(3 * i, 3 * i + 3)
    if (!kernel.closest(ox, oy, oz, dx, dy, dz, 0, 1e30, 1)) continue
    const t = kernel.distance * 0.99999
    const p = [ox + t * dx, oy + t * dy, oz + t * dz]
    const len = Math.hypot(p[0], p[1], p[2])
    const normal = new THREE.Vector3(p[0] / len, p[1] / len, p[2] / len)
    const u = new THREE.Vector3(0, 1, 0).cross(normal).normalize()
    const v = normal.clone().cross(u)
    concentricDisc(random(), random(), disc)
    const c = Math.sqrt(Math.max(0, 1 - disc[0] ** 2 - disc[1] ** 2))
    const d = normal.multiplyScalar(c).addScaledVector(u, disc[0]).addScaledVector(v, disc[1])
    origins.push(...p)
    directions.push(d.x, d.y, d.z)
  }
  return {
    origins: Float64Array.from(origins),
    directions: Float64Array.from(directions),
    maxDistance: reach,
  }
}

export function main(): void {
  console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Node ${process.version}`)
  console.log('triangles  build s  (ref)   workload         ours Mray/s  three-mesh-bvh  ratio')
  for (const triangles of [4_000, 80_000, 1_000_000]) {
    const vertices = dentedBall(triangles)
    const total = vertices.length / 9
    const started = performance.now()
    const bvh = buildBvh(vertices, new Uint8Array(total).fill(1))
    const buildSeconds = (performance.now() - started) / 1000
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(vertices, 3))
    const referenceStarted = performance.now()
    const reference = new MeshBVH(geometry, { maxLeafSize: 4 } as ConstructorParameters<typeof MeshBVH>[1])
    const referenceSeconds = (performance.now() - referenceStarted) / 1000
    const kernel = new RayKernel(bvh)
    const primary = primaryRays(400)
    const workloads: [string, Rays, boolean][] = [
      ['primary', primary, false],
      ['occlusion short', occlusionRays(kernel, primary, 0.2), true],
      ['occlusion long', occlusionRays(kernel, primary, 1e30), true],
    ]
    for (const [name, rays, any] of workloads) {
      const n = rays.origins.length / 3
      const ours: number[] = []
      const theirs: number[] = []
      const ray = new THREE.Ray()
      for (let round = 0; round < 5; round++) {
        let start = performance.now()
        for (let i = 0; i < n; i++) {
          const k = 3 * i
          const { origins: o, directions: d } = rays
          if (any)
            kernel.blocked(o[k], o[k + 1], o[k + 2], d[k], d[k + 1], d[k + 2], 1e-5, rays.maxDistance, 1)
          else kernel.closest(o[k], o[k + 1], o[k + 2], d[k], d[k + 1], d[k + 2], 1e-5, rays.maxDistance, 1)
        }
        ours.push(n / (performance.now() - start) / 1000)
        const m = Math.min(n, 20_000)
        start = performance.now()
        for (let i = 0; i < m; i++) {
          const k = 3 * Math.floor((i * n) / m)
          ray.origin.fromArray(rays.origins, k)
          ray.direction.fromArray(rays.directions, k)
          reference.raycastFirst(ray, THREE.DoubleSide, 1e-5, rays.maxDistance)
        }
        theirs.push(m / (performance.now() - start) / 1000)
      }
      const [a, b] = [median(ours), median(theirs)]
      console.log(
        `${String(total).padEnd(10)} ${buildSeconds.toFixed(2).padEnd(8)} ${referenceSeconds.toFixed(2).padEnd(7)} ${name.padEnd(16)} ${a.toFixed(2).padEnd(12)} ${b.toFixed(2).padEnd(15)} ${(a / b).toFixed(1)}×`,
      )
    }
  }
}
