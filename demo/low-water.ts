import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { writeLinePly } from '@/core/formats/line-ply'
import { writePassExr } from '@/core/formats/pass-exr'
import { readModel } from '@/core/formats/model-readers'
import type { ParamValues } from '@/core/params'
import { repairMesh, type Repair } from '@/core/geometry/repairs/registry'
import { parseParams } from '@/core/params'
import type { PassKindName } from '@/core/passes/registry'
import { passKind } from '@/core/passes/registry'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { passSet } from '@/core/passes/pass-sets'
import { ALL_MEMBERS } from '@/core/passes/render-tile'
import {
  currentRegistration,
  materialHashes,
  type SceneSource,
  toProjectModel,
  toSceneModels,
} from '@/data/project-scene'
import type { Project, ProjectModel, ProjectPass, Shot } from '@/data/project-schema'
import { newPass, newProject, newSheet, newShot } from '@/data/new-project'
import type { Rig } from '@/core/scene/light-rig'
import { newLight } from '@/core/scene/light-rig'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { tileFileName, writeTile } from '@/core/paint/tile-file'
import { hangPosters } from './low-water-posters'
import { hangOverpaint, type DemoPaint } from './low-water-overpaint'
import { hangLowWater, hangStormPrint, namesOf } from './low-water-sheets'

const FRAME = { width: 1200, height: 750 }

/** Passes that effects and masks are made from. */
const MAPS = ['depth', 'normal', 'facing'] as const

/** What each pass of the illustration changes from its defaults. */
const RENDER_PARAMS: Partial<Record<PassKindName, ParamValues>> = {
  occlusion: { reach: 12 },
  cavity: { radius: 0.42 },
  contour: { creaseDeg: 44 },
}

/** A low sun from the right, the sky still blue above. */
const EVENING: Rig = {
  id: 'evening',
  name: 'Evening',
  lights: [
    newLight('sun', 'sun', {
      name: 'Low sun',
      azimuthDeg: 80,
      elevationDeg: 26,
      sizeDeg: 5,
      colour: { by: 'colour', hex: '#ffe6c4' },
    }),
    newLight('dome', 'sky', {
      name: 'Sky',
      colour: { by: 'colour', hex: '#d6e2ee' },
      below: '#d9a98c',
      strength: 0.62,
    }),
  ],
}

/** Renders the passes of *Low Water* and writes the finished project to `folder/low-water`. */
export async function makeLowWater(folder: string): Promise<void> {
  const sources = new Map<string, SceneSource>()
  const load = async (
    id: string,
    stem: string,
    name: string,
    repairs: readonly Repair[] = [],
  ): Promise<ProjectModel> => {
    const names = [`${stem}.obj`, `${stem}.mtl`]
    const files = new Map<string, Uint8Array>()
    for (const file of names) files.set(file, new Uint8Array(await readFile(path.join(folder, file))))
    const model = await readModel(files, names[0])
    const { mesh } = repairMesh(model.mesh, repairs)
    sources.set(id, { ...model, mesh })
    const stored = names.map((file) => ({ name: file, fileId: file.replace('.', '-') }))
    return {
      ...toProjectModel(
        id,
        { type: 'file', entry: names[0], files: stored },
        model,
        summarizeMesh(mesh, model.parts.length),
      ),
      name,
      repairs: [...repairs],
    }
  }
  const kiosk = await load('kiosk', 'tide-kiosk', 'Tide kiosk', [
    // Mirrored seams look inwards, and the dinghy's planks meet in double faces.
    { kind: 'clean', params: {}, parts: null },
    { kind: 'orient', params: {}, parts: null },
  ])
  const water = await load('water', 'open-water', 'Open water')
  // Not the subject: what lies round and behind it, so that reaches are measured by the quay alone.
  const ground = { ...water, parts: water.parts.map((p) => ({ ...p, role: 'ground' as const })) }
  const models = [kiosk, ground]
  const shot: Shot = {
    ...newShot('Quay, three-quarter', EVENING.id),
    id: 'quay',
    sheetId: 'sheet',
    camera: { eye: [-6.3, 2.5, 13.4], target: [-0.75, 1.3, 0.2], fovDeg: 31, orthoHeight: null },
    frame: FRAME,
    locked: true,
  }
  const project: Project = {
    ...newProject('Low Water'),
    id: 'low-water',
    models,
    rigs: [EVENING],
    shots: [shot],
    shotId: shot.id,
    passes: [...passSet('illustration').kinds, ...MAPS].map((kind): ProjectPass => ({
      ...newPass(shot.id, kind),
      id: `pass-${kind}`,
      params: parseParams(passKind(kind).renderSchema, RENDER_PARAMS[kind] ?? {}, kind),
    })),
    sheets: [newSheet('Sheet 1', shot)],
  }

  // 1. Render.
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
      effort: passKind(p.kind).efforts.final,
    }))
    const rendered = await pool.render(
      { camera: shot.camera, frame: shot.frame, rig: EVENING, orders, seed: 0, preview: false },
      { onProgress: ({ done, total }) => done % 50 === 0 && console.log(`${done} of ${total} tiles`) },
      new AbortController().signal,
    )
    rendered.forEach(({ result, rays, seconds }, i) => {
      const pass = project.passes[i]
      const resultId = `low-water-${pass.kind}`
      results.set(resultId, result)
      pass.rendered = {
        resultId,
        registration: currentRegistration(project, shot),
        params: pass.params,
        quality: 'final',
        ...FRAME,
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

  // 2. Stack.
  const paint = await hangSheets(project)

  // 3. Write it as an unpacked archive; the models stay where they are.
  const out = path.join(folder, 'low-water')
  await rm(out, { recursive: true, force: true })
  await mkdir(path.join(out, 'passes'), { recursive: true })
  await writeFile(path.join(out, 'project.json'), JSON.stringify(project, null, 1) + '\n')
  await writePaint(out, paint)
  for (const [resultId, result] of results) {
    const file = path.join(out, 'passes', resultId)
    if (result.channels.length > 0) await writeFile(`${file}.exr`, writePassExr(result))
    if (result.drawing) await writeFile(`${file}.ply`, writeLinePly(result.drawing))
  }
}

/** Hangs the demo's sheets anew: *Low Water*, which is at work, the same painted over, and the print of a storm. */
async function hangSheets(project: Project): Promise<DemoPaint> {
  const [shot] = project.shots
  const names = namesOf(project.models)
  const evening = { ...newSheet('Sheet 1', shot), id: 'sheet' }
  const storm = { ...newSheet('Storm print', shot), id: 'storm' }
  hangLowWater(evening, names)
  hangStormPrint(storm, names)
  const overpaint = { ...newSheet('Overpaint', shot), id: 'overpaint' }
  const paint = await hangOverpaint(overpaint, names)
  project.sheets = [evening, overpaint, storm]
  hangPosters(project, shot.id, names)
  shot.sheetId = evening.id
  return paint
}

async function writePaint(out: string, paint: DemoPaint): Promise<void> {
  const folder = path.join(out, 'paint')
  await rm(folder, { recursive: true, force: true })
  await mkdir(folder, { recursive: true })
  for (const [name, { bytes, form }] of paint)
    await writeFile(path.join(folder, tileFileName(name)), writeTile(bytes, form))
}

/** Hangs the sheets of the demo that is there anew, without rendering. */
export async function rehang(folder: string): Promise<void> {
  const file = path.join(folder, 'low-water', 'project.json')
  const project = JSON.parse(await readFile(file, 'utf8')) as Project
  const paint = await hangSheets(project)
  await writeFile(file, JSON.stringify(project, null, 1) + '\n')
  await writePaint(path.dirname(file), paint)
}
