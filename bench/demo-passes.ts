import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { readFile } from 'node:fs/promises'
import { availableParallelism, cpus } from 'node:os'
import { readModel } from '@/core/formats/model-readers'
import { paramDefaults } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { toProjectModel, toSceneModels } from '@/data/project-scene'
import { newProject } from '@/data/new-project'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'

/**
 * The kiosk's passes at 1280×800, draft and final (or the one of RELIEF_QUALITY), all workers; seconds each pass
 * took of worker time, and of the clock.
 */
export async function main(): Promise<void> {
  const cores = availableParallelism()
  console.log(`machine: ${cpus()[0].model}, ${cores} cores, Node ${process.version}`)
  const files = new Map<string, Uint8Array>()
  for (const name of ['tide-kiosk.obj', 'tide-kiosk.mtl'])
    files.set(name, new Uint8Array(await readFile(new URL(`../demo/${name}`, import.meta.url))))
  const started = performance.now()
  const model = await readModel(files, 'tide-kiosk.obj')
  console.log(`read OBJ: ${((performance.now() - started) / 1000).toFixed(2)} s`)
  const own = toProjectModel(
    'kiosk',
    { type: 'file', entry: 'tide-kiosk.obj', files: [] },
    model,
    summarizeMesh(model.mesh, model.parts.length),
  )
  const project = { ...newProject('bench'), models: [own] }
  const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), cores)
  const build = await pool.setScene(toSceneModels(project, () => model))
  console.log(
    `build: ${build.triangles} triangles, ${build.seconds.toFixed(2)} s, ${(build.bytes / build.triangles).toFixed(0)} bytes a triangle`,
  )
  const camera = {
    eye: [-6.3, 2.5, 13.4] as const,
    target: [-0.75, 1.3, 0.2] as const,
    fovDeg: 31,
    orthoHeight: null,
  }
  for (const quality of ['draft', 'final'] as const) {
    if (process.env.RELIEF_QUALITY && process.env.RELIEF_QUALITY !== quality) continue
    const orders = PASS_KINDS.map((kind) => ({
      kind,
      params: paramDefaults(passKind(kind).renderSchema),
      effort: passKind(kind).efforts[quality],
    }))
    const runs = quality === 'draft' ? 3 : 1
    const clocks: number[] = []
    for (let run = 0; run < runs; run++) {
      const start = performance.now()
      const passes = await pool.render(
        {
          camera,
          frame: { width: 1280, height: 800 },
          rig: project.rigs[0],
          orders,
          seed: 0,
          preview: false,
        },
        {},
        new AbortController().signal,
      )
      clocks.push((performance.now() - start) / 1000)
      if (run === runs - 1)
        for (const [i, p] of passes.entries())
          console.log(
            `${quality} ${PASS_KINDS[i].padEnd(10)} ${p.seconds.toFixed(1)} worker s, ${(p.rays / 1e6).toFixed(1)} M rays`,
          )
    }
    console.log(
      `${quality}: ${clocks.sort((a, b) => a - b)[runs >> 1].toFixed(1)} s by the clock (median of ${runs})`,
    )
  }
  pool.close()
}
