import { describe, expect, it } from 'vitest'
import { evenFill, newLayer } from '@/core/sheet/new-layer'
import { newProject } from './new-project'
import { firstInks, INKS_LAYER, newInk, plateOf } from './page-inks'
import type { Page, ProjectSheet } from './project-schema'
import { paintedSheet } from './shown-sheets'

let made = 0
const inks = { ...firstInks(() => `ink ${++made}`), screened: true, linesPerInch: 50 }
const PAPER: Page = {
  posterId: 'p',
  unit: 'mm',
  widthMm: 100,
  heightMm: 100,
  dpi: 300,
  bleedMm: 0,
  marginsMm: [5, 5, 5, 5],
  columns: 1,
  gutterMm: 0,
  baselineMm: 0,
  marks: { crop: false, registration: false },
  inks,
}
const layer = newLayer({ id: 'a', name: 'A', content: evenFill('#804020') })
const project = newProject('P')
const page: ProjectSheet = {
  ...project.sheets[0],
  id: 'page',
  background: '#f3ead8',
  roots: ['a'],
  nodes: { a: layer },
  page: PAPER,
}
const effectOf = (sheet: ProjectSheet) => paintedSheet(project, sheet).nodes[INKS_LAYER].effects[0].params

describe('a page in inks of its own', () => {
  it('is painted through a separation in front of all that lies on it', () => {
    const painted = paintedSheet(project, page)
    expect(painted.roots).toEqual(['a', INKS_LAYER])
    expect(effectOf(page)).toMatchObject({
      inks: inks.list.map(({ colour }) => colour),
      paper: '#f3ead8',
      show: 'together',
      screened: true,
      size: 6,
      angle1: 15,
      angle2: 75,
    })
    // The document has no such layer.
    expect(page.roots).toEqual(['a'])
  })
  it('is painted as it is where they are off', () => {
    const off = { ...page, page: { ...PAPER, inks: { ...inks, on: false } } }
    expect(paintedSheet(project, off).roots).toEqual(['a'])
  })
  it('has a plate of each ink', () => {
    expect(inks.list.map(({ id }) => effectOf(plateOf(page, id)).show)).toEqual(['first', 'second'])
    expect(plateOf(page, inks.list[0].id)).toBe(plateOf(page, inks.list[0].id))
    const bare = { ...page, page: { ...PAPER, inks: undefined } }
    expect(plateOf(bare, 'x')).toBe(bare)
  })
  it('gets further inks at angles that do not beat against the others', () => {
    const list = [...inks.list]
    while (list.length < 4) list.push(newInk(`n${list.length}`, list))
    expect(new Set(list.map(({ angleDeg }) => angleDeg)).size).toBe(4)
  })
})
