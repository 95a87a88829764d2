import { paramDefaults } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import type { Project, ProjectPass, Shot } from './project-schema'
import { PROJECT_VERSION } from './project-schema'

/** A short id, unique enough for things inside one browser's projects. */
export const newId = (): string => crypto.randomUUID().slice(0, 13).replace('-', '')

export const DEFAULT_FRAME = { width: 1280, height: 800 }

/** One pass of each kind at its defaults. */
export const defaultPasses = (): ProjectPass[] =>
  PASS_KINDS.map((kind) => ({
    id: newId(),
    kind,
    params: paramDefaults(passKind(kind).renderSchema) as ProjectPass['params'],
    rendered: null,
  }))

const defaultShot = (): Shot => ({
  id: newId(),
  name: 'Shot 1',
  camera: { eye: [-3, 2.4, 6], target: [0, 0.5, 0], fovDeg: 30, orthoHeight: null },
  frame: { ...DEFAULT_FRAME },
  locked: false,
})

/** An empty project: one shot, the six passes, one sheet without layers. */
export const newProject = (name: string): Project => ({
  version: PROJECT_VERSION,
  id: newId(),
  name,
  models: [],
  shots: [defaultShot()],
  passes: defaultPasses(),
  pictures: [],
  sheets: [
    {
      id: newId(),
      name: 'Sheet 1',
      ...DEFAULT_FRAME,
      blendSpace: 'display',
      background: '#ffffff',
      layers: [],
    },
  ],
})
