import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { readPng } from '../formats/png'
import { KeptTiles } from '../sheet/evaluate/kept-tiles'
import { rowsAlone } from '../sheet/evaluate/picture-rows'
import { SheetEvaluator } from '../sheet/evaluate/sheet-evaluator'
import { contentOf, evenFill, gradientFill, passOf } from '../sheet/new-layer'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { composed, testLayer, testResources, testSheet } from '../sheet/testing/sheets'
import { ball, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { posterPdf } from './poster-pdf'
import { splitStack } from './split-stack'

const SIZE = { width: 300, height: 200 }
const models = [sceneModel(ball(0.9, 10), 'ball')]
const passes = new Map(
  (['contour', 'wireframe', 'id'] as const).map((kind) => [
    kind as string,
    renderPass(kind, models, fromFront(3), SIZE).result,
  ]),
)
const resources = testResources({}, { pass: (id) => passes.get(id) ?? null })
/** Heavy enough to be told from what lies beneath. */
const lines = (id: string, rest: Partial<SheetNode> = {}) =>
  testLayer(id, { content: passOf(id, { weight: 12 }), ...rest })
const fill = (id: string, rest: Partial<SheetNode> = {}) =>
  testLayer(id, { content: gradientFill('linear', ['#9fb9c4', '#f6b47c']), ...rest })
const half = (id: string) => testLayer(id, { content: evenFill('#2040a080') })

const sheetOf = (layers: readonly SheetNode[], rest: Partial<Sheet> = {}): Sheet =>
  testSheet(SIZE, [...layers], { id: 'inner', background: '#ffffff', ...rest })
/** A page of twice the size, the sheet in a frame that cuts it. */
const pageOf = (
  inner: Sheet,
  frame: Partial<SheetNode> = {},
  field: Readonly<Record<string, unknown>> = {},
) =>
  testSheet(
    { width: 600, height: 400 },
    [
      testLayer('frame', {
        content: contentOf('sheet', { sheetId: 'inner', box: [0.1, 0.2, 0.7, 0.6], zoom: 1.2, ...field }),
        ...frame,
      }),
    ],
    { shown: { inner }, background: '#f0e6d2' },
  )
const kinds = (sheet: Sheet) => splitStack(sheet, resources).map(({ kind }) => kind)

describe('lines of a page split for a file', () => {
  it('stay lines on the page, and in a sheet that lies on it', () => {
    expect(kinds(sheetOf([fill('a'), lines('contour')]))).toEqual(['picture', 'lines'])
    expect(kinds(pageOf(sheetOf([fill('a'), lines('contour')])))).toEqual(['picture', 'lines'])
    const multiplied = lines('contour', { mode: 'multiply', opacity: 0.8 })
    expect(kinds(pageOf(sheetOf([fill('a'), multiplied])))).toEqual(['picture', 'lines'])
  })
  it('lie beneath what is in front of them', () => {
    const sheet = pageOf(sheetOf([fill('a'), lines('contour'), half('b'), lines('wireframe')]))
    expect(kinds(sheet)).toEqual(['picture', 'lines', 'picture', 'lines'])
  })
  it('become pixels that something works on, or sees', () => {
    const gate = { own: null, beneath: [0, 0, 1, 1] as [number, number, number, number] }
    const multiply = { mode: 'multiply' as const }
    for (const sheet of [
      sheetOf([fill('a'), lines('contour', { gate })]),
      sheetOf([fill('a'), lines('contour'), fill('b', { mode: 'screen' })]),
      sheetOf([fill('a'), lines('contour')], { blendSpace: 'linear' }),
      // What they are multiplied with would be what lies behind the frame.
      sheetOf([fill('a'), lines('contour', multiply)], { background: null }),
    ])
      expect(kinds(pageOf(sheet))).toEqual(['picture'])
    const plain = sheetOf([fill('a'), lines('contour')])
    for (const frame of [{ opacity: 0.5 }, multiply, { gate }])
      expect(kinds(pageOf(plain, frame))).toEqual(['picture'])
    expect(kinds(pageOf(plain, {}, { edge: 'torn' }))).toEqual(['picture'])
    expect(kinds(pageOf(plain, {}, { rule: 3 }))).toEqual(['picture'])
  })
  it('do not take letters behind their sheet with them', () => {
    const page = pageOf(sheetOf([fill('a'), fill('m', { mode: 'multiply' }), lines('contour')]))
    const title = testLayer('t', {
      content: contentOf('type', { text: 'T', fontId: 'anton', box: [0, 0, 1, 1] }),
    })
    const behind = { ...page, roots: ['t', 'frame'], nodes: { ...page.nodes, t: title } }
    expect(kinds(behind)).toEqual(['picture', 'type', 'picture', 'lines'])
  })
})

describe('lines in a PDF', () => {
  const written = async (sheet: Sheet): Promise<{ file: string; text: string }> => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const bytes = await posterPdf(
      sheet,
      { widthMm: 152.4, heightMm: 101.6, bleedMm: 0, marks: { crop: false, registration: false } },
      { title: 'Lines', author: '', outlines: false },
      evaluator,
      resources,
      () => rowsAlone(evaluator, sheet.width),
    )
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'relief-lines-')), 'lines.pdf')
    writeFileSync(file, bytes)
    return { file, text: Buffer.from(bytes).toString('latin1') }
  }
  /** What another draws at the size of the page, beside what we show. */
  const compared = async (sheet: Sheet): Promise<{ mean: number; far: number }> => {
    const { file } = await written(sheet)
    const drawn = file.replace('.pdf', '')
    const size = ['-scale-to-x', '600', '-scale-to-y', '400']
    const { status, stderr } = spawnSync('pdftoppm', ['-png', ...size, '-singlefile', file, drawn], {
      encoding: 'utf8',
    })
    expect(`${status} ${stderr}`).toBe('0 ')
    const other = readPng(new Uint8Array(readFileSync(`${drawn}.png`)), 'drawn')
    expect([other.width, other.height]).toEqual([600, 400])
    const own = composed(sheet, resources)
    let [sum, far] = [0, 0]
    for (let i = 0; i < own.length; i += 4) {
      const off = [0, 1, 2].reduce((all, c) => all + Math.abs(own[i + c] - other.pixels[i + c]), 0) / 3
      sum += off
      if (off > 0.25) far++
    }
    return { mean: (4 * sum) / own.length, far: (4 * far) / own.length }
  }
  it('lie where ours do, cut to the frame, as dark as ours', async () => {
    for (const inner of [
      sheetOf([fill('a'), lines('contour')]),
      sheetOf([
        fill('a'),
        lines('wireframe', { mode: 'multiply', opacity: 0.6 }),
        half('b'),
        lines('contour'),
      ]),
    ]) {
      const page = pageOf(inner)
      expect(kinds(page)).toContain('lines')
      const { mean, far } = await compared(page)
      expect(mean).toBeLessThan(0.75 / 255)
      expect(far).toBeLessThan(0.004)
      // Without its lines it would be another picture.
      const bare = composed(
        pageOf({ ...inner, roots: inner.roots.filter((id) => !passes.has(id)) }),
        resources,
      )
      const whole = composed(page, resources)
      const apart = whole.reduce((all, v, i) => all + Math.abs(v - bare[i]), 0) / whole.length
      expect(apart).toBeGreaterThan(2 * mean)
    }
  })
  it('are not in its pictures', async () => {
    const page = pageOf(sheetOf([lines('contour')]))
    const { file } = await written(page)
    const { status } = spawnSync('pdfimages', ['-png', file, file.replace('.pdf', '')])
    expect(status).toBe(0)
    const { pixels } = readPng(new Uint8Array(readFileSync(file.replace('.pdf', '-000.png'))), 'image')
    const ground = new Set<string>()
    for (let i = 0; i < pixels.length; i += 4) ground.add([...pixels.subarray(i, i + 3)].join())
    expect(ground.size).toBe(2)
  })
})
