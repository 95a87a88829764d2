import { readFileSync } from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { parseParams } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { migrateProject } from './migrate-project'
import { newProject } from './new-project'
import { PROJECT_VERSION, projectSchema, validateProject, type Project } from './project-schema'

/** Documents as each version stored them: never to be changed. */
const stored = (version: number): unknown =>
  JSON.parse(
    readFileSync(path.join(import.meta.dirname, `testing/documents/version-${version}.json`), 'utf8'),
  )
function broughtUp(version: number): Project {
  const parsed = projectSchema.safeParse(migrateProject(stored(version)))
  expect(parsed.error?.issues ?? []).toEqual([])
  const project = parsed.data as Project
  expect(validateProject(project)).toEqual([])
  expect(project.version).toBe(PROJECT_VERSION)
  return project
}
const layerOf = (project: Project, name: string) => {
  const found = project.sheets.flatMap(({ nodes }) => Object.values(nodes)).find((n) => n.name === name)
  if (!found) throw new Error(`no layer ${name}`)
  return found
}
const passOf = (project: Project, kind: string) => project.passes.find((p) => p.kind === kind)

describe('a document', () => {
  it('of version 1 becomes what it meant', () => {
    const project = broughtUp(1)
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
    expect(layerOf(project, 'Clay').content).toMatchObject({
      kind: 'pass',
      look: { colour: '#d8cfc2', sheen: 0.1, exposure: 0 },
    })
  })
  it('of version 2 gets names, members, and occlusion’s reach as a percentage', () => {
    const project = broughtUp(2)
    expect(passOf(project, 'occlusion')?.name).toBe('Occlusion')
    expect(passOf(project, 'clay')?.effort).toEqual({ samples: 16, rays: 8 })
    expect(passOf(project, 'wireframe')?.rendered ?? null).toBeNull()
    expect(passOf(project, 'occlusion')?.rendered).not.toBeNull()
    expect(layerOf(project, 'Occlusion').content).toMatchObject({ look: { reach: 25, strength: 1 } })
  })
  it('of version 3 gets line passes that are drawings, their weight a look', () => {
    const project = broughtUp(3)
    expect(passOf(project, 'contour')).toMatchObject({ params: { creaseDeg: 44 }, rendered: null })
    expect(passOf(project, 'wireframe')?.params).toEqual({ seeThrough: true })
    expect(passOf(project, 'clay')?.rendered).not.toBeNull()
    const [ink, wire, clay] = ['ink', 'wire', 'clay'].map((name) => layerOf(project, name))
    expect(ink.opacity).toBeCloseTo(0.4)
    expect(ink.content).toMatchObject({ look: { colour: '#33211a', weight: 2.2, crease: 0 } })
    expect(wire.content).toMatchObject({ look: { colour: '#112233', weight: 1.6, bySpacing: 0.25, fill: 1 } })
    expect(clay.content).toMatchObject({ look: { exposure: 1 } })
    // What it became is what the passes' own schemas take.
    for (const { content } of [ink, wire])
      if (content.kind === 'pass') {
        const kind = project.passes.find((p) => p.id === content.passId)?.kind ?? 'clay'
        expect(() => parseParams(passKind(kind).lookSchema, content.look, kind)).not.toThrow()
      }
  })
  it('of version 4 comes to hold what was new', () => {
    const project = broughtUp(4)
    expect(project.models[0].parts[0].hidden).toBe(false)
    expect(project.sheets[0].fit).toBe('extend')
  })
  it('of version 5 gets its layers as a tree, which shows the same', () => {
    const project = broughtUp(5)
    const [sheet] = project.sheets
    expect(project.shots[0].sheetId).toBe(sheet.id)
    expect(sheet.fit).toBe('crop')
    expect(sheet.roots).toEqual(['sky', 'paper', 'clay', 'glow', 'ink'])
    // Straight down, from corner to corner.
    const sky = layerOf(project, 'Evening sky').content
    expect(sky).toMatchObject({
      kind: 'fill',
      shape: 'linear',
      stops: [
        { at: 0, colour: '#e9d9b9' },
        { at: 1, colour: '#e2a884' },
      ],
    })
    if (sky.kind !== 'fill') throw new Error('the sky is a fill')
    ;[0.5, 0].forEach((v, i) => expect(sky.from[i]).toBeCloseTo(v, 9))
    ;[0.5, 1].forEach((v, i) => expect(sky.to[i]).toBeCloseTo(v, 9))
    expect(layerOf(project, 'Paper')).toMatchObject({
      opacity: 0.4,
      mode: 'multiply',
      content: { kind: 'picture', pictureId: 'paper', centre: [0.5, 0.5], size: [1, 1], turnDeg: 0 },
    })
    expect(layerOf(project, 'Clay').effects).toEqual([
      {
        id: 'e1',
        kind: 'levels',
        version: 1,
        enabled: true,
        opacity: 1,
        mask: null,
        params: { black: 0.1, gamma: 1.2 },
      },
    ])
    expect(layerOf(project, 'Glow')).toMatchObject({
      confine: true,
      gate: null,
      content: { shape: 'even', stops: [{ at: 0, colour: '#ffb84a' }] },
      mask: {
        invert: true,
        featherPx: 5,
        terms: [
          { kind: 'parts', join: 'add', keys: ['m/0'] },
          { kind: 'materials', join: 'subtract', keys: ['m/0'] },
          { kind: 'picture', join: 'intersect', pictureId: 'paper' },
        ],
      },
    })
    expect(layerOf(project, 'Contour').content).toMatchObject({ byHand: [{ kind: 'line', weight: 2 }] })
  })
  it('of this version stays as it is, to the object', () => {
    const project = newProject('Now')
    expect(migrateProject(project)).toBe(project)
    expect(projectSchema.parse(project)).toEqual(project)
  })

  it.each([
    [null],
    ['text'],
    [{}],
    [{ version: 1 }],
    [{ version: 4, models: 'many', sheets: [] }],
    [{ version: 5, shots: [], sheets: [{}] }],
    [{ version: PROJECT_VERSION + 1 }],
  ])('that cannot be one (%j) is handed on for the schema to refuse', (document) => {
    expect(migrateProject(document)).toBe(document)
    expect(projectSchema.safeParse(migrateProject(document)).success).toBe(false)
  })
})
