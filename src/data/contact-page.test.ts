import { describe, expect, it } from 'vitest'
import { contents } from '@/core/sheet/contents/registry'
import { hasContent } from '@/core/sheet/sheet-schema'
import { validateTree } from '@/core/sheet/sheet-tree'
import { contactGrid, contactPage } from './contact-page'
import { newProject } from './new-project'
import type { Project } from './project-schema'
import { testRendered } from './testing/fixtures'

function example(rendered: number): Project {
  const project = newProject('Low Water')
  const [first] = project.passes
  project.passes = Array.from({ length: rendered + 1 }, (_, i) => ({
    ...first,
    id: `p${i}`,
    name: `Pass ${i}`,
    rendered: i < rendered ? testRendered({ resultId: `r${i}`, width: 320, height: 200 }) : null,
  }))
  return project
}

describe('a page of all passes', () => {
  it.each([1, 2, 5, 12, 16, 40])(
    'lays out %i as large as they can be, within the room and apart',
    (count) => {
      const aspect = 1.6
      const { columns, width, height } = contactGrid(count, aspect, 277, 176)
      expect(width / height).toBeCloseTo(aspect, 9)
      const rows = Math.ceil(count / columns)
      expect(columns * width + (columns - 1) * 5).toBeLessThanOrEqual(277 + 1e-9)
      expect(rows * (height + 7) + (rows - 1) * 5).toBeLessThanOrEqual(176 + 1e-9)
      // No other number of columns makes them larger.
      for (let other = 1; other <= count; other++) {
        const down = Math.ceil(count / other)
        const most = Math.min((277 - (other - 1) * 5) / other, ((176 - (down - 1) * 5) / down - 7) * aspect)
        expect(width).toBeGreaterThanOrEqual(most - 1e-9)
      }
    },
  )
  it('shows each rendered pass of the shot once, named, none over another', () => {
    const made = contactPage(example(7))
    const layers = Object.values(made?.page.nodes ?? {})
    const pictures = layers.flatMap((layer) => (hasContent(layer, 'sheet') ? [layer.content] : []))
    const texts = layers.flatMap((layer) => (hasContent(layer, 'type') ? [layer.content.text] : []))
    expect(pictures).toHaveLength(7)
    expect(validateTree(made?.page ?? newProject('x').sheets[0])).toEqual([])
    for (const { content } of layers) expect(contents.read(content)).toEqual(content)
    const kinds = made?.page.roots.map((id) => made.page.nodes[id].content.kind) ?? []
    expect(kinds.lastIndexOf('sheet')).toBeLessThan(kinds.indexOf('type'))
    for (let i = 0; i < 7; i++) expect(texts).toContain(`Pass ${i}`)
    expect(texts).not.toContain('Pass 7')
    expect(texts).toEqual(expect.arrayContaining(['Low Water', '320 × 200, draft']))
    for (const { sheetId } of pictures)
      expect(made?.project.sheets.some(({ id }) => id === sheetId)).toBe(true)
    for (const [i, { box: a }] of pictures.entries())
      for (const { box: b } of pictures.slice(i + 1)) {
        const isApart =
          a[0] + a[2] <= b[0] || b[0] + b[2] <= a[0] || a[1] + a[3] <= b[1] || b[1] + b[3] <= a[1]
        expect(isApart).toBe(true)
      }
  })
  it('takes a larger paper for many, and is none where nothing is rendered', () => {
    expect(contactPage(example(12))?.page.page?.widthMm).toBe(297)
    expect(contactPage(example(13))?.page.page?.widthMm).toBe(420)
    expect(contactPage(example(0))).toBeNull()
  })
})
