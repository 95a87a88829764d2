import { describe, expect, it } from 'vitest'
import type { Project, ProjectModel } from '@/data/project-schema'
import { testModel } from '@/data/testing/fixtures'
import { partsBetween, partsInGroup, treeRows } from './tree-rows'

const part = (id: string, i: number, name: string, patch: Partial<ProjectModel['parts'][number]> = {}) => ({
  ...testModel().parts[0],
  key: `${id}/${i}`,
  name,
  ...patch,
})
describe('the parts tree', () => {
  const project: Pick<Project, 'models' | 'groups'> = {
    groups: [
      { id: 'g', name: 'Iron', parentId: null },
      { id: 'h', name: 'Inner', parentId: 'g' },
    ],
    models: [
      testModel({
        parts: [
          part('m', 0, 'House'),
          part('m', 1, 'Door', { parent: 0 }),
          part('m', 2, 'Hinge', { parent: 1, groupId: 'g' }),
          part('m', 3, 'Pin', { parent: 2 }),
          part('m', 4, 'Screw', { parent: 2, groupId: 'h' }),
        ],
      }),
    ],
  }
  const shown = (search = '', folded: string[] = []) =>
    treeRows(project, search, new Set(folded)).map(
      (r) =>
        `${'.'.repeat(r.depth)}${r.type === 'part' ? r.part.name : r.type === 'group' ? r.group.name : r.model.name}`,
    )
  it('shows groups first, and moves up what stood under a grouped part', () => {
    expect(shown()).toEqual(['Iron', '.Hinge', '.Inner', '..Screw', 'Kiosk', '.House', '..Door', '...Pin'])
  })
  it('folds, and looks into what is folded when it is searched', () => {
    expect(shown('', ['group g', 'model m'])).toEqual(['Iron', 'Kiosk'])
    expect(shown('screw', ['group g'])).toEqual(['Iron', '.Inner', '..Screw'])
    expect(shown('copper')).toHaveLength(8)
    expect(shown('nothing like it')).toEqual([])
  })
  it('ranges over lines either way, parts only', () => {
    const rows = treeRows(project, '', new Set())
    const range = ['m/2', 'm/4', 'm/0']
    expect(partsBetween(rows, 'm/2', 'm/0')).toEqual(range)
    expect(partsBetween(rows, 'm/0', 'm/2')).toEqual(range)
  })
  it('knows what is in a group and below it', () => {
    expect(partsInGroup(project, 'g')).toEqual(['m/2', 'm/4'])
    expect(partsInGroup(project, 'h')).toEqual(['m/4'])
  })
})
