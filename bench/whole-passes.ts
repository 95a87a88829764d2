import { cpus } from 'node:os'
import { seededRandom } from '@/core/math/sampling'
import type { PolygonMesh } from '@/core/geometry/polygon-mesh'
import { readModel } from '@/core/formats/model-readers'
import { paramDefaults } from '@/core/params'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { TileJob, tilesFromMiddle } from '@/core/passes/render-tile'
import { frameBounds } from '@/core/scene/camera'
import { meshBounds } from '@/core/geometry/polygon-mesh'
import { IDENTITY } from '@/core/scene/placement'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { buildSceneGeometry, type SceneGeometry } from '@/core/scene/scene-geometry'
import { BATCH_RAYS, TraceKernel } from '@/core/trace/trace-kernel'
import { dentedBall } from './dented-ball'

const FRAME = { width: 256, height: 256 }
const ROUNDS = 5
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

/** Rays as occlusion asks for them: from points of the surface that neighbours in a tile see, round their normals. */
function rawRays(scene: SceneGeometry, mesh: PolygonMesh): Float32Array[] {
  const random = seededRandom(1)
  const reach = 0.2 * scene.figureDiagonal
  const { positions, faceStarts, cornerVertices, cornerNormals } = mesh
  const batches: Float32Array[] = []
  const faces = faceStarts.length - 1
  for (let b = 0; b < 24; b++) {
    const batch = new Float32Array(8 * BATCH_RAYS)
    // A run of neighbouring faces, 64 rays from each.
    const first = Math.floor(random() * (faces - BATCH_RAYS / 64))
    for (let i = 0; i < BATCH_RAYS; i++) {
      const corner = faceStarts[first + Math.floor(i / 64)]
      const v = 3 * cornerVertices[corner]
      const n = [0, 1, 2].map((axis) => cornerNormals[3 * corner + axis])
      let d: number[]
      do d = [0, 1, 2].map(() => 2 * random() - 1)
      while (Math.hypot(...d) > 1 || Math.hypot(...d) < 1e-3)
      const long = Math.hypot(...d)
      const to = d.map((value, axis) => value / long + n[axis])
      const length = Math.hypot(...to) || 1
      for (let axis = 0; axis < 3; axis++) {
        batch[8 * i + axis] = positions[v + axis] + 1e-4 * n[axis]
        batch[8 * i + 4 + axis] = to[axis] / length
      }
      batch[8 * i + 7] = reach
    }
    batches.push(batch)
  }
  return batches
}

/**
 * Whole passes on one thread, rays a second, beside what the kernel traces of the closest hits of as many rays that
 * somebody else has drawn: 400 thousand triangles that the kernel was not tuned on. Medians of interleaved rounds.
 */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}`)
  const model = await readModel(new Map([['ball.obj', dentedBall(320, 640)]]), 'ball.obj')
  const parts = model.parts.map((part, i) => ({ key: String(i), name: part.name, role: 'subject' as const }))
  const materials = model.materials.map((m, i) => ({ ...m, key: String(i) }))
  const scene = buildSceneGeometry([{ mesh: model.mesh, transforms: [IDENTITY], parts, materials }])
  const bounds = meshBounds(model.mesh)
  if (!bounds) throw new Error('no bounds')
  const setting = { camera: frameBounds(bounds, 30, 20, FRAME), frame: FRAME, rig: DEFAULT_RIG }
  const kernel = TraceKernel.over(scene.tree)
  const batches = rawRays(scene, model.mesh)
  const kinds: PassKindName[] = ['occlusion', 'cavity', 'thickness', 'light', 'clay']
  const jobs = kinds.map((kind) => {
    const params = paramDefaults(passKind(kind).renderSchema)
    const orders = [{ kind, params, effort: { samples: 4, rays: 16 } }]
    return new TileJob(
      scene,
      setting,
      () => null,
      orders,
      0,
      () => performance.now(),
    )
  })
  const raw: number[] = []
  const rates = kinds.map(() => [] as number[])
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now()
    for (const batch of batches) {
      kernel.rays.set(batch)
      kernel.traceClosest(BATCH_RAYS, 2)
    }
    raw.push((batches.length * BATCH_RAYS) / (performance.now() - start) / 1000)
    jobs.forEach((job, k) => {
      const begun = performance.now()
      let rays = 0
      for (const tile of tilesFromMiddle(FRAME, 32)) rays += job.render(tile, () => false)[0].rays
      rates[k].push(rays / (performance.now() - begun) / 1000)
    })
  }
  console.log(
    `${scene.triangleCount} triangles; closest hits of given rays: ${median(raw).toFixed(2)} M rays/s`,
  )
  kinds.forEach((kind, k) =>
    console.log(
      `${kind.padEnd(10)} ${median(rates[k]).toFixed(2)} M rays/s, ${(median(rates[k]) / median(raw)).toFixed(2)} of that`,
    ),
  )
}
