import { ALL_MEMBERS } from '@/core/passes/render-tile'
import type { ProjectModel, Rendered } from '../project-schema'

/** A rendered pass as a project tells of it. */
export const testRendered = (patch: Partial<Rendered> = {}): Rendered => ({
  resultId: 'r',
  registration: { camera: '', lens: '', frame: '', models: [] },
  params: {},
  quality: 'draft',
  width: 4,
  height: 4,
  surfaces: [],
  lights: [],
  facts: {},
  members: ALL_MEMBERS,
  denoised: false,
  materials: {},
  rays: 0,
  seconds: 0,
  samples: 1,
  ...patch,
})

/** A model of one part and one material. */
export const testModel = (patch: Partial<ProjectModel> = {}): ProjectModel => ({
  id: 'm',
  name: 'Kiosk',
  source: { type: 'file', entry: 'k.obj', files: [{ name: 'k.obj', fileId: 'f' }] },
  repairs: [],
  geometryHash: 'g',
  placement: { position: [0, 0, 0], rotationDeg: [0, 0, 0], scale: [1, 1, 1] },
  copies: { kind: 'one' },
  parts: [
    {
      key: 'm/0',
      name: 'Roof',
      parent: -1,
      role: 'subject',
      hidden: false,
      polygons: 1,
      materials: [0],
      groupId: null,
    },
  ],
  materials: [
    {
      key: 'm/0',
      name: 'Copper',
      baseColour: [0, 0, 0],
      fileColour: [0, 0, 0],
      roughness: 0.6,
      highlight: 0.3,
      opacity: 1,
      emission: [0, 0, 0],
      texture: null,
      textureBrightness: 1,
    },
  ],
  polygons: { 3: 0, 4: 1, more: 0 },
  warnings: [],
  cameras: [],
  ...patch,
})
