import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { writeLinePly } from '@/core/formats/line-ply'
import { writePassExr } from '@/core/formats/pass-exr'
import { readModel } from '@/core/formats/model-readers'
import type { ParamValues } from '@/core/params'
import { repairMesh, type Repair } from '@/core/geometry/repairs/registry'
import { paramDefaults, parseParams } from '@/core/params'
import type { PassKindName } from '@/core/passes/registry'
import { passKind } from '@/core/passes/registry'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { passSet } from '@/core/passes/pass-sets'
import { ALL_MEMBERS } from '@/core/passes/render-tile'
import { evenFill, gradientFill, newLayer, passOf, surfaceTerm } from '@/core/sheet/new-layer'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import type { SurfaceTerm } from '@/core/sheet/terms/registry'
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
  const part = (name: string): string => {
    const found = models.flatMap((m) => m.parts).find((p) => p.name === name)
    if (!found) throw new Error(`the harbour has no part ${name}`)
    return found.key
  }
  const material = (name: string): string => {
    const found = models.flatMap((m) => m.materials).find((m) => m.name === name)
    if (!found) throw new Error(`the harbour has no material ${name}`)
    return found.key
  }
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
  const look = (kind: PassKindName, changes: ParamValues): ParamValues => ({
    ...paramDefaults(passKind(kind).lookSchema),
    ...changes,
  })
  const layer = (
    id: string,
    name: string,
    rest: Partial<SheetNode> & Pick<SheetNode, 'content'>,
  ): SheetNode => newLayer({ id, name, ...rest })
  const pass = (kind: PassKindName, changes: ParamValues): SheetNode['content'] =>
    passOf(`pass-${kind}`, look(kind, changes))
  const masked = (kind: SurfaceTerm['kind'], keys: string[], invert = false, featherPx = 0): Mask => ({
    terms: [surfaceTerm(kind, keys)],
    invert,
    featherPx,
    effects: [],
  })
  const layers = [
    layer('sky', 'Evening sky', { content: gradientFill('linear', ['#e9d9b9', '#e2a884']) }),
    layer('clay', 'Clay', {
      content: pass('clay', { colour: '#e6dccb' }),
    }),
    layer('colour', 'Flat colour', {
      mode: 'multiply',
      opacity: 0.86,
      content: pass('id', { by: 'material', colours: 'model' }),
    }),
    layer('occlusion', 'Occlusion, warm', {
      mode: 'multiply',
      opacity: 0.64,
      content: pass('occlusion', { tint: '#5a2a1c', strength: 1.05 }),
    }),
    layer('cavity', 'Cavity', {
      mode: 'soft-light',
      opacity: 0.6,
      content: pass('cavity', { ridge: 1.2, valley: 1.1 }),
    }),
    layer('haze', 'Far haze', {
      opacity: 0.5,
      content: gradientFill('linear', ['#efcfa6', '#e3b08c']),
      mask: masked('parts', [part('Headland'), part('Far shore'), part('Beacon')]),
    }),
    layer('sun', 'Low sun', {
      content: gradientFill('linear', ['#fff4d2', '#ffd9a0']),
      mask: masked('parts', [part('Low sun')]),
    }),
    layer('glow', 'Lantern glow', {
      mode: 'screen',
      opacity: 0.75,
      content: evenFill('#ffb84a'),
      mask: masked('parts', [part('Lantern glass')], false, 5),
    }),
    layer('tide', 'Water haze', {
      mode: 'soft-light',
      opacity: 0.65,
      content: gradientFill('linear', ['#f3c39a', '#2f5560']),
      mask: masked('materials', [material('Water')], false, 0.6),
    }),
    layer('ink', 'Contour', {
      mode: 'multiply',
      opacity: 0.88,
      content: pass('contour', {
        ...passKind('contour').readyLooks.brush.look,
        colour: '#33211a',
        weight: 2.7,
        bySpacing: 0.1,
      }),
      mask: masked('parts', [part('Low water'), part('Low sun')], true),
    }),
    layer('dusk', 'Dusk from above', {
      mode: 'soft-light',
      opacity: 0.35,
      content: gradientFill('linear', ['#fff1d2', '#50304a']),
    }),
    layer('wire', 'Wireframe', {
      visible: false,
      mode: 'multiply',
      opacity: 0.5,
      content: pass('wireframe', {}),
    }),
  ]
  for (const own of layers) insertNode(project.sheets[0], own, { parent: null, index: Infinity })

  // 3. Write it as an unpacked archive; the models stay where they are.
  const out = path.join(folder, 'low-water')
  await rm(out, { recursive: true, force: true })
  await mkdir(path.join(out, 'passes'), { recursive: true })
  await writeFile(path.join(out, 'project.json'), JSON.stringify(project, null, 1) + '\n')
  for (const [resultId, result] of results) {
    const file = path.join(out, 'passes', resultId)
    if (result.channels.length > 0) await writeFile(`${file}.exr`, writePassExr(result))
    if (result.drawing) await writeFile(`${file}.ply`, writeLinePly(result.drawing))
  }
}
