import { paramDefaults } from '@/core/params'
import { passSet, type PassSetName } from '@/core/passes/pass-sets'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { ALL_MEMBERS } from '@/core/passes/render-tile'
import { fromReadyRig, READY_RIGS } from '@/core/scene/ready-rigs'
import type { Project, ProjectPass, ProjectSheet, Shot } from './project-schema'
import { PROJECT_VERSION } from './project-schema'

/** A short id, unique enough for things inside one browser's projects. */
export const newId = (): string => crypto.randomUUID().slice(0, 13).replace('-', '')

export const DEFAULT_FRAME = { width: 1280, height: 800 }

/** A pass at its defaults. */
export const newPass = (shotId: string, kind: PassKindName): ProjectPass => ({
  id: newId(),
  shotId,
  kind,
  name: passKind(kind).label,
  rigId: null,
  members: structuredClone(ALL_MEMBERS),
  denoise: false,
  effort: { ...passKind(kind).efforts.final },
  params: paramDefaults(passKind(kind).renderSchema) as ProjectPass['params'],
  rendered: null,
})

/** The passes a shot begins with. */
export const defaultPasses = (shotId: string, set: PassSetName = 'illustration'): ProjectPass[] =>
  passSet(set).kinds.map((kind) => newPass(shotId, kind))

/** A shot as it begins. */
export const newShot = (name: string, rigId: string): Shot => ({
  id: newId(),
  name,
  camera: { eye: [-3, 2.4, 6], target: [0, 0.5, 0], fovDeg: 30, orthoHeight: null },
  frame: { ...DEFAULT_FRAME },
  dpi: 300,
  margin: 0.05,
  locked: false,
  rigId,
  sheetId: newId(),
  guides: [],
  views: [],
  moves: [],
})

/** An empty sheet of a shot: the one that is at work with it. */
export const newSheet = (name: string, shot: Pick<Shot, 'id' | 'frame' | 'sheetId'>): ProjectSheet => ({
  id: shot.sheetId,
  name,
  shotId: shot.id,
  ...shot.frame,
  fit: 'extend',
  blendSpace: 'display',
  background: '#ffffff',
  roots: [],
  nodes: {},
})

/** An empty project: one shot with its rig, its passes, and a sheet without layers. */
export function newProject(name: string, set: PassSetName = 'illustration'): Project {
  const rig = fromReadyRig(READY_RIGS[0], newId)
  const shot = newShot('Shot 1', rig.id)
  return {
    version: PROJECT_VERSION,
    id: newId(),
    name,
    models: [],
    groups: [],
    palettes: [],
    schemes: [],
    schemeId: null,
    references: [],
    rigs: [rig],
    shots: [shot],
    shotId: shot.id,
    before: [],
    handOver: { choice: null, written: [] },
    passes: defaultPasses(shot.id, set),
    pictures: [],
    sequences: [],
    sheets: [newSheet('Sheet 1', shot)],
    posters: [],
    typeStyles: [],
    fonts: [],
    kept: [],
    turns: [],
  }
}
