import { produce } from 'immer'
import { describe, expect, it } from 'vitest'
import { contentOf, evenFill, newEffect, newLayer } from '@/core/sheet/new-layer'
import { insertNode, validateTree } from '@/core/sheet/sheet-tree'
import { newProject } from './new-project'
import {
  inUnit,
  fromUnit,
  marginBox,
  pagePixels,
  PAPER_SIZES,
  sizeInWords,
  toMm,
  toPx,
  trimBox,
} from './page-size'
import { firstInks } from './page-inks'
import { lengthRatio, pageAlike, pagesOf, seriesInStep } from './poster-series'
import { projectSchema, validateProject, type Page, type Project, type ProjectSheet } from './project-schema'
import { resizePage } from './resize-page'
import { documentChanges } from '@/core/document-changes'
import { patchedSheet } from '@/core/sheet/patch-sheet'
import { sheetSchema } from '@/core/sheet/sheet-schema'
import { paintedFrom, paintedSheet, shownBy } from './shown-sheets'

const page = (label: string, bleedMm = 3): Page => {
  const size = PAPER_SIZES.find((own) => own.label === label)
  if (!size) throw new Error(label)
  const { unit, widthMm, heightMm } = size
  return {
    posterId: 'p',
    unit,
    widthMm,
    heightMm,
    dpi: 100,
    bleedMm,
    marginsMm: [10, 10, 10, 10],
    columns: 4,
    gutterMm: 4,
    baselineMm: 0,
    marks: { crop: true, registration: true },
  }
}
const block = (given: Readonly<Record<string, unknown>> = {}) =>
  newLayer({
    id: 't',
    name: 'Title',
    content: contentOf('type', {
      text: 'TIDE',
      fontId: 'anton',
      size: 100,
      outline: 4,
      box: [0.1, 0.1, 0.8, 0.2],
      ...given,
    }),
    effects: [{ ...newEffect('e', 'inkBleed'), params: { amount: 6, uneven: 0.5, seed: 1 } }],
  })
const sheetOf = (id: string, label: string): ProjectSheet => ({
  id,
  name: label,
  shotId: 's',
  ...pagePixels(page(label)),
  fit: 'extend',
  blendSpace: 'display',
  background: '#ffffff',
  roots: ['f', 't'],
  nodes: {
    f: newLayer({
      id: 'f',
      name: 'Frame',
      content: contentOf('sheet', { sheetId: 'inner', box: [0, 0, 1, 1] }),
    }),
    t: block(),
  },
  page: page(label),
})

/** A project with a poster of two pages. */
function series(): Project {
  const project = newProject('Series')
  const [shot] = project.shots
  const first = { ...sheetOf('one', 'A3'), shotId: shot.id }
  const inner = { ...project.sheets[0], id: 'inner' }
  const second = { ...pageAlike({ ...sheetOf('two', 'A5'), shotId: shot.id }, first), id: 'two' }
  return {
    ...project,
    shots: [{ ...shot, sheetId: 'inner' }],
    posters: [{ id: 'p', name: 'Fair' }],
    sheets: [inner, first, second],
  }
}
const changed = (project: Project, apply: (one: ProjectSheet) => void): Project =>
  seriesInStep(
    project,
    produce(project, (draft) => apply(draft.sheets[1] as ProjectSheet)),
  )
const typeOf = (project: Project, at: number) => {
  const { content } = project.sheets[at].nodes.t
  if (content.kind !== 'type') throw new Error('no type')
  return content
}

describe('the pages of a series', () => {
  it('are sound, and go through the schema as they are', () => {
    const project = series()
    expect(validateProject(project)).toEqual([])
    expect(projectSchema.parse(JSON.parse(JSON.stringify(project)))).toEqual(project)
    expect(pagesOf(project, 'p').map(({ id }) => id)).toEqual(['one', 'two'])
    expect(validateProject({ ...project, posters: [] })).toContain(
      'page A3 belongs to a poster that is not there',
    )
  })
  it('begin alike, lengths by what each measures', () => {
    const project = series()
    const by = lengthRatio(project.sheets[2], project.sheets[1])
    expect(by).toBeCloseTo(0.5, 1)
    expect(typeOf(project, 2).size).toBeCloseTo(100 * by, 6)
    expect(typeOf(project, 2).outline).toBeCloseTo(4 * by, 6)
    expect(project.sheets[2].nodes.t.effects[0].params.amount).toBeCloseTo(6 * by, 6)
  })
  it('take up words and colours from each other, and keep their own places', () => {
    const before = series()
    const placed = changed(before, (one) => {
      const { content } = one.nodes.t
      if (content.kind === 'type') Object.assign(content, { box: [0, 0, 0.5, 0.5], size: 260, turnDeg: 4 })
    })
    expect(typeOf(placed, 2)).toEqual(typeOf(before, 2))
    const said = changed(placed, (one) => {
      const { content } = one.nodes.t
      if (content.kind === 'type') Object.assign(content, { text: 'FAIR', colour: '#112233', outline: 8 })
      one.nodes.t.opacity = 0.4
      one.nodes.t.visible = false
    })
    const by = lengthRatio(said.sheets[2], said.sheets[1])
    expect(typeOf(said, 2)).toMatchObject({
      text: 'FAIR',
      colour: '#112233',
      outline: expect.closeTo(8 * by, 6),
    })
    expect(typeOf(said, 2).box).toEqual(typeOf(before, 2).box)
    expect(said.sheets[2].nodes.t).toMatchObject({ opacity: 0.4, visible: true })
  })
  it('get layers, lose them, and are put in order together', () => {
    const before = series()
    const more = changed(before, (one) =>
      insertNode(one, newLayer({ id: 'x', name: 'X', content: evenFill('#ff0000') }), {
        parent: null,
        index: 1,
      }),
    )
    expect(more.sheets[2].roots).toEqual(['f', 'x', 't'])
    expect(validateTree(more.sheets[2])).toEqual([])
    const less = changed(more, (one) => {
      delete one.nodes.t
      one.roots = ['x', 'f']
    })
    expect(less.sheets[2].roots).toEqual(['x', 'f'])
    expect(Object.keys(less.sheets[2].nodes).sort()).toEqual(['f', 'x'])
    expect(validateTree(less.sheets[2])).toEqual([])
  })
  it('leave everything else as it is', () => {
    const before = series()
    const after = changed(before, (one) => void (one.name = 'A3 again'))
    expect(after.sheets[2]).toBe(before.sheets[2])
    expect(after.sheets[0]).toBe(before.sheets[0])
    const plain = newProject('Plain')
    const other = { ...plain, name: 'Other' }
    expect(seriesInStep(plain, other)).toBe(other)
  })
})

describe('paper', () => {
  it('is told in its own unit, and back', () => {
    const own = page('A2')
    expect(sizeInWords(own)).toBe('420 × 594 mm')
    expect(toMm(toPx(37, own), own)).toBeCloseTo(37, 9)
    for (const unit of ['mm', 'in', 'px'] as const)
      expect(fromUnit(inUnit(123, { unit, dpi: 300 }), { unit, dpi: 300 })).toBeCloseTo(123, 9)
    expect(pagePixels({ widthMm: 420, heightMm: 594, bleedMm: 0, dpi: 300 })).toEqual({
      width: 4961,
      height: 7016,
    })
    const square = PAPER_SIZES.find(({ label }) => label === 'Square')
    expect(square && pagePixels(square)).toEqual({ width: 1080, height: 1080 })
  })
  it('is cut within its bleed, and has margins within that', () => {
    const own = page('A4')
    const [x0, y0, x1, y1] = trimBox(own)
    expect((x1 - x0) * (own.widthMm + 6)).toBeCloseTo(210, 9)
    expect(y0 * (own.heightMm + 6)).toBeCloseTo(3, 9)
    expect(y1).toBeCloseTo(1 - y0, 12)
    expect(marginBox(own)[0] * (own.widthMm + 6)).toBeCloseTo(13, 9)
  })
})

describe('a page of another size', () => {
  const resized = (next: Page) => produce(sheetOf('one', 'A3'), (draft) => resizePage(draft, next))
  it('keeps what lies on it where it lies on the paper, whatever its bleed', () => {
    const before = sheetOf('one', 'A3')
    const after = resized(page('A3', 10))
    const left = (sheet: ProjectSheet, bleed: number) => {
      const { content } = sheet.nodes.t
      return content.kind === 'type' ? toMm(content.box[0] * sheet.width, page('A3')) - bleed : NaN
    }
    expect(left(after, 10)).toBeCloseTo(left(before, 3), 0)
    expect(after.width).toBe(pagePixels(page('A3', 10)).width)
    // What covered the page with its bleed still does.
    expect(after.nodes.f.content).toMatchObject({ box: [0, 0, 1, 1] })
    expect(after.nodes.t.content).toMatchObject({ size: 100 })
  })
  it('scales lengths with the paper and the resolution', () => {
    const small = resized(page('A5'))
    expect(small.nodes.t.content).toMatchObject({ size: expect.closeTo(50, 0) })
    const fine = resized({ ...page('A3'), dpi: 200 })
    expect(fine.nodes.t.content).toMatchObject({ size: 200 })
    expect(fine.nodes.t.effects[0].params.amount).toBe(12)
  })
})

describe('a page as it is painted', () => {
  it('comes with the sheets that it shows, and is the same object until one of them changes', () => {
    const project = series()
    const [inner, one] = project.sheets
    expect(shownBy(project, one)).toEqual([inner])
    const painted = paintedSheet(project, one)
    expect(painted.shown?.inner).toBe(inner)
    expect(paintedSheet({ ...project }, one)).toBe(painted)
    const other = { ...project, sheets: [{ ...inner, background: '#000000' }, one] }
    expect(paintedSheet(other, one)).not.toBe(painted)
    expect(paintedSheet(project, inner)).toBe(inner)
  })
  it('knows where pictures of its shot lie on it', () => {
    const project = series()
    const { lies } = paintedSheet(project, project.sheets[1])
    const inner = project.sheets[0]
    expect(lies).toMatchObject({ width: inner.width, height: inner.height, fit: 'extend' })
    // It covers the page in its own shape: as high, and wider than the page.
    expect(lies?.box[3]).toBeCloseTo(1, 9)
    expect(lies?.box[2]).toBeGreaterThan(1)
    expect((lies?.box[0] ?? 0) + (lies?.box[2] ?? 0) / 2).toBeCloseTo(0.5, 9)
    const elsewhere = { ...project, sheets: [{ ...inner, shotId: 'other' }, project.sheets[1]] }
    expect(paintedSheet(elsewhere, project.sheets[1]).lies).toBeUndefined()
  })
})

describe('what is painted of a page', () => {
  it('follows every change of its paper, as whoever paints is told of it', () => {
    const project = newProject('Papers')
    const [inner] = project.sheets
    const one: ProjectSheet = { ...inner, id: 'one', page: page('A4'), mockupOf: undefined }
    const steps: ((own: ProjectSheet) => ProjectSheet)[] = [
      (own) => ({ ...own, page: { ...page('A4'), columns: 7 } }),
      (own) => ({ ...own, page: { ...page('A4', 9), inks: firstInks(() => `ink ${made++}`) } }),
      (own) => ({ ...own, page: { ...page('A4', 9), stock: { paper: '#eeeeee', black: '#222222' } } }),
      (own) => ({ ...own, page: undefined, mockupOf: 'p' }),
    ]
    let made = 0
    let held = sheetSchema.parse(structuredClone(paintedSheet(project, one)))
    let before = one
    for (const step of steps) {
      const after = step(before)
      const changes = documentChanges(paintedSheet(project, before), paintedSheet(project, after))
      held = patchedSheet(held, structuredClone(changes))
      expect(held).toEqual(sheetSchema.parse(structuredClone(paintedSheet(project, after))))
      before = after
    }
  })
})

describe('what shows what', () => {
  it('goes from mock-ups to pages to sheets, and never round', () => {
    const project = newProject('Ranks')
    const [sheet] = project.sheets
    const shows = (kind: 'sheet' | 'mockup', sheetId: string) =>
      newLayer({ id: `of ${sheetId}`, name: 'Of', content: contentOf(kind, { sheetId, box: [0, 0, 1, 1] }) })
    const holding = (own: ProjectSheet, ...layers: ReturnType<typeof shows>[]): ProjectSheet => ({
      ...own,
      roots: layers.map(({ id }) => id),
      nodes: Object.fromEntries(layers.map((layer) => [layer.id, layer])),
    })
    const one = holding(
      { ...sheet, id: 'page', page: page('A4') },
      shows('sheet', sheet.id),
      shows('sheet', 'hung'),
    )
    const hung = holding({ ...sheet, id: 'hung', mockupOf: 'p' }, shows('mockup', 'page'))
    const plain = holding(sheet, shows('sheet', 'page'))
    const all = { ...project, sheets: [plain, one, hung] }
    expect(shownBy(all, plain)).toEqual([])
    expect(shownBy(all, one)).toEqual([plain])
    expect(paintedFrom(all, hung)).toEqual([hung, one, plain])
    expect(paintedSheet(all, hung).shown?.page.shown?.[sheet.id]).toBe(plain)
    expect(paintedSheet(all, hung).shown?.page.trim).toEqual([...trimBox(page('A4'))])
  })
})
