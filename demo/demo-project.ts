import { mkdir, readFile, rm, symlink, writeFile } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { repairMesh, type Repair } from '@/core/geometry/repairs/registry'
import { writeLinePly } from '@/core/formats/line-ply'
import { readModel } from '@/core/formats/model-readers'
import { writePassExr } from '@/core/formats/pass-exr'
import type { EffortName } from '@/core/passes/effort'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { ALL_MEMBERS } from '@/core/passes/render-tile'
import {
  currentRegistration,
  materialHashes,
  type SceneSource,
  toProjectModel,
  toSceneModels,
} from '@/data/project-scene'
import type { Project, ProjectModel } from '@/data/project-schema'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'

/** What the projects of the demo have in common: their models, how they are rendered, how they are written. */

/** Mirrored seams look inwards, and the dinghy's planks meet in double faces. */
export const KIOSK_REPAIRS: readonly Repair[] = [
  { kind: 'clean', params: {}, parts: null },
  { kind: 'orient', params: {}, parts: null },
]

/** A model of the demo, as the application brings it in. @param sources takes its mesh. */
export async function demoModel(
  folder: string,
  sources: Map<string, SceneSource>,
  id: string,
  stem: string,
  name: string,
  repairs: readonly Repair[] = [],
): Promise<ProjectModel> {
  const names = [`${stem}.obj`, `${stem}.mtl`]
  const files = new Map<string, Uint8Array>()
  for (const file of names) files.set(file, new Uint8Array(await readFile(path.join(folder, file))))
  const model = await readModel(files, names[0])
  const { mesh } = repairMesh(model.mesh, repairs)
  sources.set(id, { ...model, mesh })
  const stored = names.map((file) => ({ name: file, fileId: file.replace('.', '-') }))
  const source = { type: 'file' as const, entry: names[0], files: stored }
  const summary = summarizeMesh(mesh, model.parts.length)
  return { ...toProjectModel(id, source, model, summary), name, repairs: [...repairs] }
}

/** Renders all passes of a project's first shot, and notes them. @returns them by the names they are kept under. */
export async function renderDemo(
  project: Project,
  sources: ReadonlyMap<string, SceneSource>,
  quality: EffortName,
): Promise<Map<string, PassResult>> {
  const [shot] = project.shots
  const [rig] = project.rigs
  const pool = new RenderPool(
    spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)),
    availableParallelism(),
  )
  const results = new Map<string, PassResult>()
  try {
    await pool.setScene(
      toSceneModels(project, (id) => {
        const source = sources.get(id)
        if (!source) throw new Error(`no mesh ${id}`)
        return source
      }),
    )
    const orders = project.passes.map((p) => ({
      kind: p.kind,
      params: p.params,
      effort: passKind(p.kind).efforts[quality],
    }))
    const rendered = await pool.render(
      { camera: shot.camera, frame: shot.frame, rig, orders, seed: 0, preview: false },
      { onProgress: ({ done, total }) => done % 50 === 0 && console.log(`${done} of ${total} tiles`) },
      new AbortController().signal,
    )
    rendered.forEach(({ result, rays, seconds }, i) => {
      const pass = project.passes[i]
      const resultId = `${project.id}-${pass.kind}`
      results.set(resultId, result)
      pass.rendered = {
        resultId,
        registration: currentRegistration(project, shot),
        params: pass.params,
        quality,
        ...shot.frame,
        surfaces: storedSurfaces(result.surfaces),
        facts: result.facts,
        members: ALL_MEMBERS,
        denoised: false,
        materials: materialHashes(project, pass.kind),
        lights: result.lights.map((light) => ({ ...light })),
        rays,
        seconds: Number(seconds.toFixed(2)),
        samples: orders[i].effort.samples,
      }
    })
  } finally {
    pool.close()
  }
  return results
}

/** Writes a project as an unpacked archive. Its models stay where they are: links lead to them. */
export async function writeDemo(
  folder: string,
  project: Project,
  results: ReadonlyMap<string, PassResult>,
): Promise<void> {
  const out = path.join(folder, project.id)
  await rm(out, { recursive: true, force: true })
  await mkdir(path.join(out, 'passes'), { recursive: true })
  await writeFile(path.join(out, 'project.json'), JSON.stringify(project, null, 1) + '\n')
  for (const { source } of project.models)
    for (const { name, fileId } of source.type === 'file' ? source.files : []) {
      await mkdir(path.join(out, 'files', fileId), { recursive: true })
      await symlink(path.join('..', '..', '..', name), path.join(out, 'files', fileId, name))
    }
  for (const [resultId, result] of results) {
    const file = path.join(out, 'passes', resultId)
    if (result.channels.length > 0) await writeFile(`${file}.exr`, writePassExr(result))
    if (result.drawing) await writeFile(`${file}.ply`, writeLinePly(result.drawing))
  }
}
