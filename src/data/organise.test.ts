import { describe, expect, it } from 'vitest'
import { newProject } from './new-project'
import { renameAll } from './part-names'
import { validateProject, type Project, type ProjectModel } from './project-schema'
import { carryOver, matchParts } from './replace-model'
import { testModel } from './testing/fixtures'

const part = (id: string, i: number, name: string, patch: Partial<ProjectModel['parts'][number]> = {}) => ({
  ...testModel().parts[0],
  key: `${id}/${i}`,
  name,
  ...patch,
})
const material = (
  id: string,
  i: number,
  name: string,
  patch: Partial<ProjectModel['materials'][number]> = {},
) => ({
  ...testModel().materials[0],
  key: `${id}/${i}`,
  name,
  ...patch,
})

describe('renameAll', () => {
  it('puts one word in the place of another, taking marks as they stand', () => {
    const names = ['Wall.001', 'wall.002', 'Roof']
    expect(renameAll(names, { kind: 'replace', find: 'wall.', replace: 'Plank ', matchCase: false })).toEqual(
      ['Plank 001', 'Plank 002', 'Roof'],
    )
    expect(renameAll(names, { kind: 'replace', find: 'wall.', replace: 'x', matchCase: true })[0]).toBe(
      'Wall.001',
    )
    expect(renameAll(['a$b'], { kind: 'replace', find: '$', replace: '$&$1', matchCase: true })).toEqual([
      'a$&$1b',
    ])
  })
  it('never leaves a part without a name, and does nothing for nothing', () => {
    expect(renameAll(['Roof'], { kind: 'replace', find: 'Roof', replace: ' ', matchCase: true })).toEqual([
      'Roof',
    ])
    expect(renameAll(['Roof'], { kind: 'replace', find: '', replace: 'x', matchCase: true })).toEqual([
      'Roof',
    ])
  })
  it('numbers, with as many digits as there are marks', () => {
    const names = ['a', 'b', 'c']
    expect(renameAll(names, { kind: 'number', pattern: 'Post ##', from: 9 })).toEqual([
      'Post 09',
      'Post 10',
      'Post 11',
    ])
    expect(renameAll(names, { kind: 'number', pattern: 'Post', from: 1 })).toEqual([
      'Post 1',
      'Post 2',
      'Post 3',
    ])
    expect(renameAll(names, { kind: 'number', pattern: '#/###', from: 2 })[0]).toBe('2/###')
  })
})

describe('replacing a model', () => {
  const filed = (...names: string[]) => names.map((name) => ({ name, parent: -1 }))
  it('matches by name all the way up, then by the only one left of a name', () => {
    const before = [
      { name: 'House', parent: -1 },
      { name: 'Door', parent: 0 },
      { name: 'Shed', parent: -1 },
      { name: 'Door', parent: 2 },
      { name: 'Roof', parent: 2 },
    ]
    const now = [
      { name: 'Shed', parent: -1 },
      { name: 'Door', parent: 0 },
      { name: 'House', parent: -1 },
      { name: 'Roof', parent: 2 },
      { name: 'Door', parent: 2 },
      { name: 'Vane', parent: -1 },
    ]
    expect(matchParts(before, now)).toEqual([2, 3, 0, 4, 1, -1])
  })
  it('tells like-named parts apart by their order', () => {
    expect(matchParts(filed('Post', 'Post', 'Post'), filed('Post', 'Post'))).toEqual([0, 1])
  })
  it('carries names, roles, groups, colours and keys over, and lists what did not match', () => {
    const old = testModel({
      name: 'My kiosk',
      placement: { position: [1, 2, 3], rotationDeg: [0, 0, 0], scale: [1, 1, 1] },
      repairs: [{ kind: 'flip', params: {}, parts: [0, 1] }],
      parts: [
        part('m', 0, 'The door', { role: 'unseen', groupId: 'g' }),
        part('m', 1, 'Vane'),
        part('m', 2, 'Lost'),
      ],
      materials: [
        material('m', 0, 'Iron', { baseColour: [1, 0, 0], roughness: 0.2 }),
        material('m', 1, 'Paint', { baseColour: [0, 0, 0], fileColour: [0, 0, 0] }),
      ],
    })
    const fresh = testModel({
      id: 'new',
      name: 'kiosk-v2',
      geometryHash: 'g2',
      parts: [part('new', 0, 'vane'), part('new', 1, 'Lamp'), part('new', 2, 'door')],
      materials: [
        material('new', 0, 'Paint', { baseColour: [0, 1, 0], fileColour: [0, 1, 0] }),
        material('new', 1, 'Iron'),
      ],
    })
    const { model, unmatched } = carryOver(old, filed('door', 'vane', 'lost'), ['Iron', 'Paint'], fresh)
    expect(model).toMatchObject({ id: 'm', name: 'My kiosk', geometryHash: 'g2', placement: old.placement })
    expect(model.parts.map((p) => [p.key, p.name, p.role, p.groupId])).toEqual([
      ['m/1', 'Vane', 'subject', null],
      ['m/3', 'Lamp', 'subject', null],
      ['m/0', 'The door', 'unseen', 'g'],
    ])
    expect(model.repairs[0].parts).toEqual([2, 0])
    // A colour of one's own stays; one that was the file's follows the file.
    expect(model.materials.map((m) => [m.key, m.baseColour, m.roughness])).toEqual([
      ['m/1', [0, 1, 0], 0.6],
      ['m/0', [1, 0, 0], 0.2],
    ])
    expect(unmatched).toEqual({ gone: ['Lost'], added: ['Lamp'], goneMaterials: [], addedMaterials: [] })
  })
})

describe('project documents', () => {
  it('are refused where shots, rigs, sheets or groups hang loose', () => {
    const wrong = (change: (p: Project) => void): string[] => {
      const project = structuredClone(newProject('P')) as Project
      change(project)
      return validateProject(project)
    }
    expect(wrong(() => undefined)).toEqual([])
    expect(wrong((p) => void (p.shots[0].rigId = 'x'))[0]).toMatch(/names a rig/)
    expect(wrong((p) => void (p.shotId = 'x'))[0]).toMatch(/shot at work/)
    expect(wrong((p) => void (p.sheets[0].shotId = 'x')).join()).toMatch(/belongs to a shot.*has no sheet/)
    expect(wrong((p) => void p.groups.push({ id: 'a', name: 'A', parentId: 'a' }))[0]).toMatch(
      /lies in itself/,
    )
    expect(
      wrong(
        (p) =>
          void p.groups.push({ id: 'a', name: 'A', parentId: 'b' }, { id: 'b', name: 'B', parentId: 'a' }),
      ),
    ).toHaveLength(2)
  })
})
