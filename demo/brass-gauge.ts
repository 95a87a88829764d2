import { readFile, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { paramDefaults, parseParams, type ParamValues } from '@/core/params'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { newLight, type Rig } from '@/core/scene/light-rig'
import {
  contentOf,
  evenFill,
  gradientFill,
  newLayer,
  newMask,
  passOf,
  surfaceTerm,
} from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newTurn, type Reveal, type Turn } from '@/core/turn/turn-schema'
import { newPass, newProject, newSheet, newShot } from '@/data/new-project'
import type { SceneSource } from '@/data/project-scene'
import type { Project, ProjectModel, ProjectPass, ProjectSheet, Shot } from '@/data/project-schema'
import { demoModel, KIOSK_REPAIRS, renderDemo, writeDemo } from './demo-project'
import { namesOf } from './low-water-sheets'

/** *The Brass Gauge*: the quay turns twice; shaded first, in the second turn its mesh sweeps in and the gauge lights up. */

const FRAME = { width: 1280, height: 720 }
const FRAMES_A_TURN = 60
const RATE = 12

/** A window to the left, its sky, and a rim from behind. */
const STUDIO: Rig = {
  id: 'studio',
  name: 'Studio',
  lights: [
    newLight('sun', 'key', {
      name: 'Window',
      azimuthDeg: -48,
      elevationDeg: 40,
      sizeDeg: 9,
      strength: 0.85,
      colour: { by: 'colour', hex: '#fff1dc' },
    }),
    newLight('dome', 'sky', {
      name: 'Sky',
      colour: { by: 'colour', hex: '#d9e2ea' },
      below: '#c9a68c',
      strength: 0.72,
    }),
    newLight('sun', 'rim', {
      name: 'Rim',
      azimuthDeg: 150,
      elevationDeg: 24,
      sizeDeg: 6,
      strength: 0.5,
      colour: { by: 'colour', hex: '#ffd9b0' },
    }),
  ],
}

const KINDS = ['clay', 'occlusion', 'contour', 'wireframe', 'id'] as const
const PARAMS: Partial<Record<PassKindName, ParamValues>> = {
  occlusion: { reach: 14 },
  contour: { creaseDeg: 44 },
}

const pass = (kind: PassKindName, look: ParamValues = {}): SheetNode['content'] =>
  passOf(`pass-${kind}`, { ...paramDefaults(passKind(kind).lookSchema), ...look })

const BRASS = ['Gauge bezel', 'Gauge dial', 'Gauge marks', 'Gauge hands', 'Gauge hub', 'Gauge pipe'] as const

/** What lies on the water, which is not here. */
const AFLOAT = /^(Dinghy|Oars|Painter|Piles|Pile hoops|Mooring ring|Ring plate|Shore stones|Sea-worn stones)/

/** Hangs the stack of the turntable, back first. */
function hang(sheet: ProjectSheet, models: readonly ProjectModel[]): void {
  const { part } = namesOf(models)
  const layers: (Partial<SheetNode> & Pick<SheetNode, 'id' | 'name' | 'content'>)[] = [
    {
      id: 'paper',
      name: 'Ground',
      content: gradientFill('radial', ['#efe5d3', '#dccbb0', '#b79f80'], [0.5, 0.42], [1.15, 0.9]),
    },
    { id: 'clay', name: 'Clay', content: pass('clay', { colour: '#dccfba' }) },
    {
      id: 'brass',
      name: 'Brass lights up',
      mode: 'multiply',
      content: evenFill('#e0a12c'),
      mask: { ...newMask(), terms: [surfaceTerm('parts', BRASS.map(part))] },
    },
    {
      id: 'occlusion',
      name: 'Occlusion, warm',
      mode: 'multiply',
      opacity: 0.82,
      content: pass('occlusion', { tint: '#3f2438', strength: 1.1 }),
    },
    {
      id: 'contour',
      name: 'Contour',
      mode: 'multiply',
      opacity: 0.9,
      content: pass('contour', { colour: '#2c2320' }),
    },
    {
      id: 'wire',
      name: 'Wireframe',
      mode: 'multiply',
      content: pass('wireframe', { colour: '#1f4a5a' }),
    },
    {
      id: 'title',
      name: 'Title',
      content: contentOf('type', {
        text: 'The Brass Gauge',
        fontId: 'playfair-display',
        box: [0.08, 0.07, 0.5, 0.09],
        size: 44,
        colour: '#2c2320',
      }),
    },
    {
      id: 'plate',
      name: 'Statistics',
      content: contentOf('type', {
        text: '{parts} parts, {polygons} polygons, {textures} textures',
        fontId: 'barlow-condensed',
        box: [0.08, 0.88, 0.6, 0.05],
        size: 20,
        colour: '#274a57',
      }),
    },
  ]
  const nodes = layers.map((own) => newLayer({ ...own, id: `layer-${own.id}` }))
  sheet.roots = nodes.map(({ id }) => id)
  sheet.nodes = Object.fromEntries(nodes.map((node) => [node.id, node]))
}

const reveal = (layer: string, rest: Partial<Reveal>): Reveal => ({
  id: `reveal-${layer}`,
  layerId: `layer-${layer}`,
  kind: 'fade',
  from: 0,
  whole: 1,
  goes: null,
  gone: null,
  ease: 'slow both',
  angleDeg: 0,
  softness: 0.04,
  centre: [0.5, 0.5],
  parts: [],
  ...rest,
})

function turntable(sheetId: string): Turn {
  const end = 2 * FRAMES_A_TURN
  return {
    ...newTurn('two-turns', 'Two turns', sheetId, { turns: 2, framesPerTurn: FRAMES_A_TURN, rate: RATE }),
    reveals: [
      reveal('wire', { kind: 'sweep', angleDeg: -13, from: 58, whole: 84, goes: 108, gone: end }),
      reveal('plate', { from: 84, whole: 90, goes: 108, gone: 114 }),
    ],
    tracks: [
      {
        path: ['nodes', 'layer-brass', 'opacity'],
        keys: [
          { at: 0, value: 0.12, ease: 'slow both' },
          { at: 34, value: 1, ease: 'hold' },
          { at: 52, value: 1, ease: 'slow both' },
          { at: 70, value: 0.12, ease: 'hold' },
        ],
      },
    ],
  }
}

/** Renders *The Brass Gauge* and writes the finished project to `folder/brass-gauge`. */
export async function makeBrassGauge(folder: string): Promise<void> {
  const sources = new Map<string, SceneSource>()
  const model = await demoModel(folder, sources, 'kiosk', 'tide-kiosk', 'Tide kiosk', KIOSK_REPAIRS)
  const kiosk: ProjectModel = {
    ...model,
    parts: model.parts.map((part) => (AFLOAT.test(part.name) ? { ...part, role: 'off' as const } : part)),
  }
  const shot: Shot = {
    ...newShot('Quay on the turntable', STUDIO.id),
    id: 'stand',
    sheetId: 'turning',
    camera: { eye: [-8.4, 6.6, 16.2], target: [0.1, 0.95, 0], fovDeg: 28, orthoHeight: null },
    frame: FRAME,
    locked: true,
  }
  const sheet: ProjectSheet = { ...newSheet('Turning', shot), id: 'turning' }
  const project: Project = {
    ...newProject('The Brass Gauge'),
    id: 'brass-gauge',
    models: [kiosk],
    rigs: [STUDIO],
    shots: [shot],
    shotId: shot.id,
    passes: KINDS.map((kind): ProjectPass => ({
      ...newPass(shot.id, kind),
      id: `pass-${kind}`,
      params: parseParams(passKind(kind).renderSchema, PARAMS[kind] ?? {}, kind),
    })),
    sheets: [sheet],
    turns: [turntable(sheet.id)],
  }
  hang(sheet, project.models)
  await writeDemo(folder, project, await renderDemo(project, sources, 'good'))
}

/** Hangs its stack and its turntable anew, without rendering. */
export async function rehangBrassGauge(folder: string): Promise<void> {
  const file = path.join(folder, 'brass-gauge', 'project.json')
  const project = JSON.parse(await readFile(file, 'utf8')) as Project
  hang(project.sheets[0], project.models)
  project.turns = [turntable(project.sheets[0].id)]
  await writeFile(file, JSON.stringify(project, null, 1) + '\n')
}
