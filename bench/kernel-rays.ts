import { once } from 'node:events'
import { cpus } from 'node:os'
import { Worker } from 'node:worker_threads'
import * as THREE from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { concentricDisc, seededRandom } from '@/core/math/sampling'
import { buildPlainBvh } from '@/core/trace/plain-bvh'
import { PlainKernel } from '@/core/trace/plain-kernel'
import { buildRayTree, treeToTransfer, type RayTree } from '@/core/trace/ray-tree'
import { BATCH_RAYS, RAY_NUMBERS, TraceKernel } from '@/core/trace/trace-kernel'
import { traceBatches } from './trace-batches'

/**
 * Rays per second of the kernel, single thread, beside the plain kernel and three-mesh-bvh on the same rays; medians of
 * interleaved rounds. Then two threads against one.
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
    // In tiles of 32 × 32, as the passes ask for them.
    const tile = Math.floor(i / 1024)
    const [left, top] = [32 * (tile % (side / 32)), 32 * Math.floor(tile / (side / 32))]
    const x = (left + (i % 32) + 0.5) / side - 0.5
    const y = (top + Math.floor((i % 1024) / 32) + 0.5) / side - 0.5
    const len = Math.hypot(x * 0.8, y * 0.8, 1)
    origins.set([0, 0, 3.2], 3 * i)
    directions.set([(x * 0.8) / len, (y * 0.8) / len, -1 / len], 3 * i)
  }
  return { origins, directions, maxDistance: 1e30 }
}

function occlusionRays(kernel: PlainKernel, primary: Rays, reach: number): Rays {
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

/** Rays as the kernel takes them: whole batches, in tiles of the picture as the passes ask. */
function packed(rays: Rays): Float32Array[] {
  const n = rays.origins.length / 3
  const batches: Float32Array[] = []
  for (let start = 0; start < n; start += BATCH_RAYS) {
    const count = Math.min(BATCH_RAYS, n - start)
    const batch = new Float32Array(RAY_NUMBERS * count)
    for (let i = 0; i < count; i++) {
      batch.set(rays.origins.subarray(3 * (start + i), 3 * (start + i) + 3), RAY_NUMBERS * i)
      batch[RAY_NUMBERS * i + 3] = 1e-5
      batch.set(rays.directions.subarray(3 * (start + i), 3 * (start + i) + 3), RAY_NUMBERS * i + 4)
      batch[RAY_NUMBERS * i + 7] = rays.maxDistance
    }
    batches.push(batch)
  }
  return batches
}

const ROUNDS = 7
/** Times the rays are gone through in one round of two threads. */
const SCALING_ROUNDS = 4

export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Node ${process.version}`)
  for (const triangles of [4_000, 80_000, 1_000_000]) {
    const vertices = dentedBall(triangles)
    const total = vertices.length / 9
    const buildSeconds: number[] = []
    let tree = buildRayTree(vertices, new Uint32Array(total).fill(1 << 24))
    for (let round = 0; round < 3; round++) {
      const started = performance.now()
      tree = buildRayTree(vertices, new Uint32Array(total).fill(1 << 24))
      buildSeconds.push((performance.now() - started) / 1000)
    }
    const plainStarted = performance.now()
    const plain = new PlainKernel(buildPlainBvh(vertices, new Uint8Array(total).fill(1)))
    const plainSeconds = (performance.now() - plainStarted) / 1000
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(vertices, 3))
    const referenceStarted = performance.now()
    const reference = new MeshBVH(geometry, { maxLeafSize: 4 } as ConstructorParameters<typeof MeshBVH>[1])
    const referenceSeconds = (performance.now() - referenceStarted) / 1000
    console.log(
      `\n${total} triangles, ${(tree.bytes / total).toFixed(1)} bytes each; built in ${median(buildSeconds).toFixed(3)} s ` +
        `(plain ${plainSeconds.toFixed(2)} s, three-mesh-bvh ${referenceSeconds.toFixed(2)} s)`,
    )
    console.log('workload         Mray/s  plain   three   against plain  against three')
    const kernel = TraceKernel.over(tree)
    const primary = primaryRays(384)
    const workloads: [string, Rays, boolean][] = [
      ['primary', primary, false],
      ['occlusion short', occlusionRays(plain, primary, 0.2), true],
      ['occlusion long', occlusionRays(plain, primary, 1e30), true],
    ]
    for (const [name, rays, any] of workloads) {
      const n = rays.origins.length / 3
      const batches = packed(rays)
      const speeds: number[][] = [[], [], []]
      const ray = new THREE.Ray()
      // The first round warms the compilers and is not counted.
      for (let round = 0; round <= ROUNDS; round++) {
        let start = performance.now()
        traceBatches(kernel, batches, any)
        speeds[0].push(n / (performance.now() - start) / 1000)
        // A fifth of the rays tells the slower ones' speed.
        const m = Math.floor(n / 5)
        start = performance.now()
        for (let i = 0; i < m; i++) {
          const k = 3 * Math.floor((i * n) / m)
          const { origins: o, directions: d } = rays
          if (any)
            plain.blocked(o[k], o[k + 1], o[k + 2], d[k], d[k + 1], d[k + 2], 1e-5, rays.maxDistance, 1)
          else plain.closest(o[k], o[k + 1], o[k + 2], d[k], d[k + 1], d[k + 2], 1e-5, rays.maxDistance, 1)
        }
        speeds[1].push(m / (performance.now() - start) / 1000)
        start = performance.now()
        for (let i = 0; i < m; i++) {
          const k = 3 * Math.floor((i * n) / m)
          ray.origin.fromArray(rays.origins, k)
          ray.direction.fromArray(rays.directions, k)
          reference.raycastFirst(ray, THREE.DoubleSide, 1e-5, rays.maxDistance)
        }
        speeds[2].push(m / (performance.now() - start) / 1000)
      }
      const [ours, its, theirs] = speeds.map((list) => median(list.slice(1)))
      console.log(
        `${name.padEnd(16)} ${ours.toFixed(2).padEnd(7)} ${its.toFixed(2).padEnd(7)} ${theirs.toFixed(2).padEnd(7)} ${(ours / its).toFixed(1).padEnd(14)} ${(ours / theirs).toFixed(1)}`,
      )
    }
    const long = packed(workloads[2][1])
    console.log(`two threads on long occlusion: ${(await scaling(tree, long)).toFixed(2)} times one`)
  }
}

/** Rays per second of two threads over one shared tree against one, medians of interleaved rounds. */
async function scaling(tree: RayTree, batches: Float32Array[]): Promise<number> {
  const file = new URL('./kernel-worker.mjs', import.meta.url)
  const workers = [0, 1].map(
    () => new Worker(file, { workerData: { transfer: treeToTransfer(tree), batches } }),
  )
  const run = async (count: number): Promise<number> => {
    const started = performance.now()
    await Promise.all(
      workers.slice(0, count).map((worker) => {
        const done = once(worker, 'message')
        worker.postMessage(SCALING_ROUNDS)
        return done
      }),
    )
    return performance.now() - started
  }
  await run(2)
  const ratios: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    const one = await run(1)
    ratios.push((2 * one) / (await run(2)))
  }
  await Promise.all(workers.map((worker) => worker.terminate()))
  return median(ratios)
}
