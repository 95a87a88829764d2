import { describe, expect, it } from 'vitest'
import type { Project, ProjectModel, ProjectPart } from './project-schema'
import { projectWords } from './project-words'

const part = (rest: Partial<ProjectPart>): ProjectPart => ({
  key: 'm/0',
  name: 'Bell',
  parent: -1,
  role: 'subject',
  hidden: false,
  polygons: 10,
  sides: { 3: 4, 4: 5, more: 1 },
  materials: [0],
  groupId: null,
  ...rest,
})
const project = (parts: readonly ProjectPart[]): Pick<Project, 'name' | 'models'> => {
  const model = {
    parts,
    polygons: { 3: 4000, 4: 500, more: 60 },
    materials: [{ texture: null }, { texture: 'rust.png' }, { texture: 'rust.png' }],
  }
  return { name: 'Low Water', models: [model as unknown as ProjectModel] }
}

describe('words of a project', () => {
  it('count what is shown', () =>
    expect(
      projectWords(project([part({}), part({}), part({ hidden: true }), part({ role: 'off' })])),
    ).toEqual({
      project: 'Low Water',
      parts: '2',
      polygons: '20',
      triangles: '8',
      quads: '10',
      larger: '2',
      materials: '3',
      textures: '1',
    }))
  it('say sides of the whole model where parts do not tell theirs', () =>
    expect(projectWords(project([part({ sides: undefined })]))).toMatchObject({
      triangles: '4,000',
      quads: '500',
      larger: '60',
    }))
  it('count nothing of a model of which nothing is shown', () =>
    expect(projectWords(project([part({ role: 'off' })]))).toMatchObject({
      parts: '0',
      materials: '0',
      textures: '0',
    }))
})
