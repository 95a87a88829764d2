import { readFile, mkdir, rm, writeFile } from 'node:fs/promises'
import path from 'node:path'
import type { ParamValues } from '@/core/params'
import { parseParams } from '@/core/params'
import type { PassKindName } from '@/core/passes/registry'
import { passKind } from '@/core/passes/registry'
import { passSet } from '@/core/passes/pass-sets'
import type { SceneSource } from '@/data/project-scene'
import type { Project, ProjectPass, Shot } from '@/data/project-schema'
import { newPass, newProject, newSheet, newShot } from '@/data/new-project'
import type { Rig } from '@/core/scene/light-rig'
import { newLight } from '@/core/scene/light-rig'
import { tileFileName, writeTile } from '@/core/paint/tile-file'
import { demoModel, KIOSK_REPAIRS, renderDemo, writeDemo } from './demo-project'
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
  const kiosk = await demoModel(folder, sources, 'kiosk', 'tide-kiosk', 'Tide kiosk', KIOSK_REPAIRS)
  const water = await demoModel(folder, sources, 'water', 'open-water', 'Open water')
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
  const results = await renderDemo(project, sources, 'final')
  const paint = await hangSheets(project)
  await writeDemo(folder, project, results)
  await writePaint(path.join(folder, project.id), paint)
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
