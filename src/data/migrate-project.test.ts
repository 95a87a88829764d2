import { describe, expect, it } from 'vitest'
import { parseParams } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { newLayer } from '@/core/sheet/new-layer'
import { migrateProject } from './migrate-project'
import { newProject } from './new-project'
import { PROJECT_VERSION, projectSchema, validateProject, type Project } from './project-schema'
import { testModel, testRendered } from './testing/fixtures'

describe('documents', () => {
  it('of version 1 become what they meant', () => {
    const fresh = newProject('Old')
    const [shot] = fresh.shots
    const old = {
      version: 1,
      id: 'p',
      name: 'Old',
      models: [
        {
          id: 'm',
          name: 'Kiosk',
          entry: 'k.obj',
          files: [{ name: 'k.obj', fileId: 'f' }],
          geometryHash: 'g',
          placement: { position: [1, 0, 2], turnDeg: 30, scale: 2 },
          parts: [{ key: 'm/0', name: 'Roof', parent: -1, role: 'ground', polygons: 1, materials: [0] }],
          materials: [{ key: 'm/0', name: 'Copper', baseColour: [0.1, 0.2, 0.3] }],
          polygons: { 3: 0, 4: 1, more: 0 },
          warnings: [],
        },
      ],
      shots: [{ id: shot.id, name: 'Shot 1', camera: shot.camera, frame: shot.frame, locked: true }],
      passes: [
        {
          id: 'c',
          kind: 'clay',
          params: { roughness: 0.4, keyAzimuthDeg: 60, keyElevationDeg: 20, keySizeDeg: 3 },
          rendered: null,
        },
      ],
      pictures: [],
      sheets: [
        {
          ...fresh.sheets[0],
          shotId: undefined,
          layers: [
            {
              id: 'l',
              name: 'Clay',
              visible: true,
              locked: false,
              opacity: 1,
              confine: false,
              mode: 'normal',
              mask: null,
              effects: [],
              source: {
                type: 'pass',
                passId: 'c',
                look: {
                  colour: '#d8cfc2',
                  sheen: 0.1,
                  exposure: 0,
                  key: 0.7,
                  dome: 0.4,
                  above: '#aabbcc',
                  below: '#ccbbaa',
                  keyColour: '#ffeedd',
                },
              },
            },
          ],
        },
      ],
    }
    const parsed = projectSchema.safeParse(migrateProject(old))
    expect(parsed.error?.issues ?? []).toEqual([])
    const project = parsed.data as Project
    expect(validateProject(project)).toEqual([])
    expect(project.models[0].placement).toEqual({
      position: [1, 0, 2],
      rotationDeg: [0, 30, 0],
      scale: [2, 2, 2],
    })
    expect(project.rigs[0].lights).toMatchObject([
      {
        kind: 'sun',
        azimuthDeg: 60,
        elevationDeg: 20,
        sizeDeg: 3,
        strength: 0.7,
        colour: { hex: '#ffeedd' },
      },
      { kind: 'dome', strength: 0.4, below: '#ccbbaa' },
    ])
    expect(project.passes[0].params).toEqual({ roughness: 0.4 })
    const [layer] = project.sheets[0].layers
    expect(layer.source).toMatchObject({ look: { colour: '#d8cfc2', sheen: 0.1, exposure: 0 } })
  })
  it('of version 2 get names, members, and occlusion’s reach as a percentage', () => {
    const project = newProject('Old')
    const occlusion = project.passes.find((p) => p.kind === 'occlusion')
    const wireframe = project.passes.find((p) => p.kind === 'wireframe')
    const { facts: _f, members: _m, denoised: _d, materials: _x, ...rendered } = testRendered()
    const old = {
      ...project,
      version: 2,
      passes: project.passes.map(({ name: _n, members: _b, denoise: _e, effort: _o, ...pass }) => ({
        ...pass,
        rendered,
      })),
      sheets: project.sheets.map((sheet) => ({
        ...sheet,
        layers: [
          {
            id: 'l',
            name: 'Occlusion',
            visible: true,
            mode: 'multiply',
            opacity: 1,
            confine: false,
            mask: null,
            effects: [],
            source: { type: 'pass', passId: occlusion?.id, look: { reach: '4', strength: 1 } },
          },
        ],
      })),
    }
    const now = projectSchema.parse(migrateProject(JSON.parse(JSON.stringify(old))))
    expect(now.version).toBe(PROJECT_VERSION)
    expect(now.passes.map((p) => p.name)).toEqual(project.passes.map((p) => p.name))
    expect(now.passes.find((p) => p.id === wireframe?.id)?.rendered).toBeNull()
    expect(now.passes.find((p) => p.id === occlusion?.id)?.rendered).not.toBeNull()
    expect(now.sheets[0].layers[0].source).toMatchObject({ look: { reach: 25, strength: 1 } })
  })

  it('of version 3 get line passes that are drawings, their weight a look', () => {
    const project = newProject('Old')
    const pass = (kind: string) => project.passes.find((p) => p.kind === kind)?.id
    const layer = (id: string, passId: string | undefined, look: object) => ({
      ...newLayer({ id, name: id, source: { type: 'pass', passId: passId ?? '', look: {} } }),
      opacity: 0.8,
      source: { type: 'pass', passId, look },
    })
    const old = {
      ...project,
      version: 3,
      passes: project.passes.map((p) => ({
        ...p,
        params:
          p.kind === 'contour'
            ? { weight: 2.2, creaseDeg: 44, depthStep: 1.6, betweenParts: true, creases: false }
            : p.kind === 'wireframe'
              ? { weight: 0.8, seeThrough: true }
              : p.params,
        rendered: testRendered(),
      })),
      sheets: project.sheets.map((sheet) => ({
        ...sheet,
        layers: [
          layer('ink', pass('contour'), { colour: '#33211a', strength: 0.5 }),
          layer('wire', pass('wireframe'), { colour: '#112233', heavier: 2, fade: 0.25, fill: 1 }),
          layer('clay', pass('clay'), { exposure: 1 }),
        ],
      })),
    }
    const now = projectSchema.parse(migrateProject(JSON.parse(JSON.stringify(old))))
    const contour = now.passes.find((p) => p.kind === 'contour')
    expect(contour).toMatchObject({ params: { creaseDeg: 44 }, rendered: null })
    expect(now.passes.find((p) => p.kind === 'wireframe')?.params).toEqual({ seeThrough: true })
    expect(now.passes.find((p) => p.kind === 'clay')?.rendered).not.toBeNull()
    const [ink, wire, clay] = now.sheets[0].layers
    expect(ink.opacity).toBeCloseTo(0.4)
    expect(ink.source).toMatchObject({ look: { colour: '#33211a', weight: 2.2, crease: 0 } })
    expect(wire.source).toMatchObject({ look: { colour: '#112233', weight: 1.6, bySpacing: 0.25, fill: 1 } })
    expect(clay.source).toMatchObject({ look: { exposure: 1 } })
    // What it became is what the passes' own schemas take.
    for (const { source } of [ink, wire])
      if (source.type === 'pass') {
        const kind = now.passes.find((p) => p.id === source.passId)?.kind ?? 'clay'
        expect(() => parseParams(passKind(kind).lookSchema, source.look, kind)).not.toThrow()
      }
  })
  it('of version 4 come to hold what is new, and mean what they meant', () => {
    const project = { ...newProject('Old'), models: [testModel()] }
    const { version: _version, ...rest } = project
    const old = {
      ...rest,
      version: 4,
      models: rest.models.map((m) => ({ ...m, parts: m.parts.map(({ hidden: _hidden, ...p }) => p) })),
      sheets: rest.sheets.map(({ fit: _fit, ...s }) => s),
    }
    expect(projectSchema.parse(migrateProject(old))).toEqual(project)
  })

  it('of this version stay as they are, to the object', () => {
    const project = newProject('Now')
    expect(migrateProject(project)).toBe(project)
  })

  it.each([
    [null],
    ['text'],
    [{}],
    [{ version: 1 }],
    [{ version: 4, models: 'many', sheets: [] }],
    [{ version: PROJECT_VERSION + 1 }],
  ])('that cannot be one (%j) are handed on for the schema to refuse', (document) => {
    expect(migrateProject(document)).toBe(document)
    expect(projectSchema.safeParse(migrateProject(document)).success).toBe(false)
  })
})
