import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { availableParallelism, cpus } from 'node:os'
import { readModel } from '@/core/formats/model-readers'
import { paramDefaults } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { frameBounds } from '@/core/scene/camera'
import { meshBounds } from '@/core/geometry/polygon-mesh'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { toProjectModel, toSceneModels } from '@/data/project-scene'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { dentedBall } from './dented-ball'

/** A million triangles: read, built, rendered as a draft. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}`)
  const bytes = dentedBall()
  let start = performance.now()
  const lap = () => {
    const seconds = ((performance.now() - start) / 1000).toFixed(1)
    start = performance.now()
    return seconds
  }
  lap()
  const model = await readModel(new Map([['ball.obj', bytes]]), 'ball.obj')
  console.log(`read ${(bytes.length / 1e6).toFixed(0)} MB of OBJ: ${lap()} s`)
  const source = { type: 'file' as const, entry: 'ball.obj', files: [] }
  const own = toProjectModel('b', source, model, summarizeMesh(model.mesh, model.parts.length))
  const pool = new RenderPool(
    spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)),
    availableParallelism(),
  )
  lap()
  const build = await pool.setScene(toSceneModels({ models: [own], groups: [] }, () => model))
  console.log(`scene of ${build.triangles} triangles: ${lap()} s, ${(build.bytes / 1e6).toFixed(0)} MB`)
  const bounds = meshBounds(model.mesh)
  if (!bounds) throw new Error('no bounds')
  const frame = { width: 1280, height: 800 }
  const orders = PASS_KINDS.map((kind) => ({
    kind,
    params: paramDefaults(passKind(kind).renderSchema),
    effort: passKind(kind).efforts.draft,
  }))
  await pool.render(
    { camera: frameBounds(bounds, 30, 20, frame), frame, rig: DEFAULT_RIG, orders, seed: 0, preview: false },
    {},
    new AbortController().signal,
  )
  console.log(
    `six passes, draft, 1280×800: ${lap()} s; ${(process.memoryUsage().rss / 1e6).toFixed(0)} MB resident`,
  )
  pool.close()
}
