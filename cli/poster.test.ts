// One file: one poster, written in every form and read back.
import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { unzipSync } from 'fflate'
import { beforeAll, describe, expect, it } from 'vitest'
import sharp from 'sharp'
import { inkSet, overprint } from '@/core/effects/ink-separation'
import { linearToSrgb } from '@/core/math/colour'
import { readPng } from '@/core/formats/png'
import { contentOf, evenFill, gradientFill, newEffect, newLayer, wash } from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newProject, newSheet } from '@/data/new-project'
import { pagePixels } from '@/data/page-size'
import { writeProjectArchive } from '@/data/project-archive'
import type { Page, ProjectSheet } from '@/data/project-schema'
import { reliefHere } from './testing/relief-here'

/** `relief compose --poster`, its files opened by another reader of PDFs. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-poster-'))
const at = (name: string) => path.join(folder, name)
const relief = reliefHere
const ask = (command: string, ...args: string[]): string => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(`${command}: ${stderr}`)
  return stdout
}

const PAPER: Page = {
  posterId: 'fair',
  unit: 'mm',
  widthMm: 90,
  heightMm: 120,
  dpi: 100,
  bleedMm: 3,
  marginsMm: [6, 6, 6, 6],
  columns: 4,
  gutterMm: 3,
  baselineMm: 0,
  marks: { crop: true, registration: true },
}
const INKS: Page['inks'] = {
  on: true,
  list: [
    { id: 'r', name: 'Red 1', colour: '#b8432b', angleDeg: 15 },
    { id: 'b', name: 'Harbour blue', colour: '#20465c', angleDeg: 75 },
  ],
  screened: false,
  linesPerInch: 40,
  slipMm: 0,
  slipSeed: 1,
}
const type = (
  id: string,
  text: string,
  rest: Readonly<Record<string, unknown>>,
  more: Partial<SheetNode> = {},
): SheetNode => newLayer({ id, name: text, content: contentOf('type', { text, ...rest }), ...more })

const page = (
  id: string,
  name: string,
  paper: Page,
  nodes: readonly SheetNode[],
  shotId: string,
): ProjectSheet => ({
  id,
  name,
  shotId,
  ...pagePixels(paper),
  fit: 'extend',
  blendSpace: 'display',
  background: '#f3ead8',
  roots: nodes.map((node) => node.id),
  nodes: Object.fromEntries(nodes.map((node) => [node.id, node])),
  page: paper,
})

let archive = ''
beforeAll(async () => {
  const project = newProject('Posters')
  const [shot] = project.shots
  const inner = {
    ...newSheet('Inner', { ...shot, sheetId: 'inner' }),
    roots: ['g'],
    nodes: { g: newLayer({ id: 'g', name: 'Sky', content: gradientFill('linear', ['#9fb9c4', '#f6b47c']) }) },
  }
  const layers = [
    newLayer({
      id: 'frame',
      name: 'Inner',
      content: contentOf('sheet', { sheetId: 'inner', box: [0, 0, 1, 0.6] }),
    }),
    // What works on the picture stays one with it, and can be found all the same.
    type(
      'soft',
      'SOFT EDGES',
      { fontId: 'anton', size: 40, box: [0.1, 0.1, 0.8, 0.2], colour: '#7a2b15' },
      {
        effects: [newEffect('b', 'inkBleed')],
      },
    ),
    newLayer({ id: 'press', name: 'Press', content: wash(), effects: [newEffect('v', 'vignette')] }),
    type('title', 'Tide fair office', {
      fontId: 'playfair-display',
      axes: { wght: 700 },
      size: 44,
      box: [0.1, 0.62, 0.8, 0.2],
    }),
    type(
      'small',
      'AVAST fjord',
      {
        fontId: 'league-gothic',
        axes: { wdth: 80 },
        size: 30,
        outline: 2,
        outlineColour: '#ffffff',
        box: [0.1, 0.78, 0.8, 0.1],
        turnDeg: -4,
      },
      { opacity: 0.8 },
    ),
    newLayer({
      id: 'veil',
      name: 'Veil',
      content: evenFill('#20303040'),
    }),
    type('arc', 'over an arc', {
      fontId: 'anton',
      size: 24,
      box: [0.2, 0.87, 0.6, 0.1],
      warp: 'arc',
      bend: 20,
    }),
  ]
  const posters = [
    page('p1', 'Upright', PAPER, layers, shot.id),
    page('p2', 'Lying', { ...PAPER, widthMm: 120, heightMm: 90 }, layers, shot.id),
    page('p3', 'Inked', { ...PAPER, bleedMm: 0, inks: INKS }, layers, shot.id),
  ]
  const paper = newLayer({
    id: 'paper',
    name: 'Upright',
    content: contentOf('mockup', {
      sheetId: 'p1',
      stand: 'pasted',
      folds: 'none',
      creases: 0,
      azimuthDeg: 0,
      elevationDeg: 0,
    }),
  })
  const hung: ProjectSheet = {
    ...posters[0],
    id: 'hung',
    name: 'Hung',
    width: 320,
    height: 240,
    roots: ['paper'],
    nodes: { paper },
    page: undefined,
    mockupOf: 'fair',
  }
  project.sheets = [inner, ...posters, hung]
  project.posters = [{ id: 'fair', name: 'Tide Fair' }]
  shot.sheetId = 'inner'
  const bytes = await writeProjectArchive({ project, files: new Map(), results: new Map() })
  archive = at('posters.zip')
  writeFileSync(archive, bytes)
  for (const [name, content] of Object.entries(unzipSync(bytes))) {
    mkdirSync(path.dirname(at(`open/${name}`)), { recursive: true })
    writeFileSync(at(`open/${name}`), content)
  }
  expect(
    relief('compose', archive, '--poster', 'Tide Fair', '--author', 'The quay', '--out', at('fair.pdf'))
      .stderr,
  ).toBe('')
})

describe('a poster as a PDF', () => {
  it('has the paper’s boxes, title and author', () => {
    const told = ask('pdfinfo', '-box', at('fair.pdf'))
    const box = (name: string) =>
      /([\d.]+) +([\d.]+) +([\d.]+) +([\d.]+)/
        .exec(told.split(`${name}:`)[1])
        ?.slice(1)
        .map(Number) ?? []
    const mm = (points: number) => (points * 25.4) / 72
    const [x0, y0, x1, y1] = box('TrimBox')
    expect(mm(x1 - x0)).toBeCloseTo(90, 1)
    expect(mm(y1 - y0)).toBeCloseTo(120, 1)
    const [bx0, by0, bx1] = box('BleedBox')
    expect(mm(x0 - bx0)).toBeCloseTo(3, 1)
    expect(mm(y0 - by0)).toBeCloseTo(3, 1)
    expect(mm(bx1 - x1)).toBeCloseTo(3, 1)
    expect(box('MediaBox')[2]).toBeGreaterThan(bx1)
    expect(told).toMatch(/Title: +Tide Fair/)
    expect(told).toMatch(/Author: +The quay/)
  })
  it('gives the words that were typed, letters and pixels alike', () => {
    const words = (...how: string[]) => ask('pdftotext', ...how, at('fair.pdf'), '-').replace(/\s+/g, ' ')
    const seen = words()
    for (const text of ['SOFT EDGES', 'Tide fair office', 'AVAST fjord']) expect(seen).toContain(text)
    // Once each, though some have a line about them.
    expect(seen.match(/AVAST/g)).toHaveLength(1)
    // What is bent is read in the order in which it is written.
    expect(words('-raw')).toContain('over an arc')
  })
  it('embeds its fonts as subsets', () => {
    const rows = ask('pdffonts', at('fair.pdf')).trim().split('\n').slice(2)
    expect(rows.length).toBeGreaterThanOrEqual(3)
    for (const row of rows) expect(row).toMatch(/^[A-Z]{6}\+\S+ +CID TrueType +Identity-H +yes yes yes/)
    expect(readFileSync(at('fair.pdf')).length).toBeLessThan(900_000)
  })
  it('holds its picture at its resolution', () => {
    const [first] = ask('pdfimages', '-list', at('fair.pdf')).trim().split('\n').slice(2)
    const columns = first.trim().split(/\s+/)
    expect(columns.slice(2, 6)).toEqual(['image', '378', '496', 'rgb'])
    expect(Number(columns[12])).toBeCloseTo(100, -1)
  })
  it('looks as it does to us when another draws it', () => {
    ask('pdftoppm', '-png', '-r', '100', '-x', '0', '-y', '0', '-cropbox', at('fair.pdf'), at('drawn'))
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('fair.png')).stderr).toBe('')
    const drawn = readPng(new Uint8Array(readFileSync(at('drawn-1.png'))), 'drawn')
    const own = readPng(new Uint8Array(readFileSync(at('fair.png'))), 'own')
    expect([own.width, own.height]).toEqual([354, 472])
    // Where its paper begins within marks and bleed: whole pixels of the other's.
    const room = ((2 + 6 + 2 + 3) / 25.4) * 100
    const [left, top] = [Math.round(room), Math.round(room)]
    let sum = 0
    let far = 0
    for (let y = 4; y < own.height - 4; y++)
      for (let x = 4; x < own.width - 4; x++) {
        let least = Infinity
        // Half a pixel to either side: the two do not begin theirs at the same place.
        for (const dy of [-1, 0, 1])
          for (const dx of [-1, 0, 1]) {
            const [i, j] = [4 * (y * own.width + x), 4 * ((top + y + dy) * drawn.width + left + x + dx)]
            const off =
              [0, 1, 2].reduce((all, c) => all + Math.abs(own.pixels[i + c] - drawn.pixels[j + c]), 0) / 3
            least = Math.min(least, off)
          }
        sum += least
        if (least > 0.15) far++
      }
    const count = (own.width - 8) * (own.height - 8)
    expect(sum / count).toBeLessThan(2 / 255)
    expect(far / count).toBeLessThan(0.004)
  })
  it('has outlines in place of fonts where that was asked for', () => {
    expect(
      relief('compose', archive, '--poster', 'Tide Fair/Lying', '--outlines', '--out', at('lying.pdf'))
        .stderr,
    ).toBe('')
    expect(ask('pdffonts', at('lying.pdf')).trim().split('\n').slice(2)).toEqual([])
    expect(ask('pdfinfo', '-box', at('lying.pdf'))).toMatch(/TrimBox/)
  })
  it('is the same on any number of threads', () => {
    expect(
      relief(
        'compose',
        archive,
        '--poster',
        'Tide Fair',
        '--author',
        'The quay',
        '--threads',
        '1',
        '--out',
        at('alone.pdf'),
      ).stderr,
    ).toBe('')
    expect(readFileSync(at('alone.pdf')).equals(readFileSync(at('fair.pdf')))).toBe(true)
  })
})

describe('a poster as a picture', () => {
  it('comes from an unpacked project too, cut to its paper, and says how large it is', () => {
    expect(relief('compose', at('open'), '--poster', 'Tide Fair', '--out', at('open.png')).stderr).toBe('')
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('zip.png')).stderr).toBe('')
    expect(readFileSync(at('open.png')).equals(readFileSync(at('zip.png')))).toBe(true)
    const bytes = readFileSync(at('open.png'))
    const density = bytes.indexOf('pHYs')
    expect(bytes.readUInt32BE(density + 4)).toBe(Math.round(100 / 0.0254))
  })
  it('is of any size, and a JPEG', () => {
    expect(
      relief('compose', archive, '--poster', 'Tide Fair/Lying', '--size', '240x180', '--out', at('small.png'))
        .stderr,
    ).toBe('')
    const small = readPng(new Uint8Array(readFileSync(at('small.png'))), 'small')
    expect([small.width, small.height]).toEqual([240, 180])
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('fair.jpg')).stderr).toBe('')
    const jpeg = readFileSync(at('fair.jpg'))
    expect([...jpeg.subarray(0, 3)]).toEqual([0xff, 0xd8, 0xff])
    expect(jpeg.readUInt16BE(14)).toBe(100)
  })
})

/** A picture as another reader has it: display values of red, green and blue. */
async function readBy(file: string): Promise<{ width: number; height: number; rgb: Buffer }> {
  const { data, info } = await sharp(at(file))
    .flatten({ background: '#fff' })
    .toColourspace('srgb')
    .raw()
    .toBuffer({
      resolveWithObject: true,
    })
  return { width: info.width, height: info.height, rgb: data }
}
const meanOff = (a: Buffer, b: Buffer): number =>
  a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length / 255

describe('what other readers make of it', () => {
  it('has in its JPEG the pixels of its PNG, to what JPEG loses', async () => {
    for (const ending of ['png', 'jpg'])
      expect(
        relief('compose', archive, '--poster', 'Tide Fair', '--out', at(`read.${ending}`), '--overwrite')
          .stderr,
      ).toBe('')
    const [png, jpg] = [await readBy('read.png'), await readBy('read.jpg')]
    expect([jpg.width, jpg.height]).toEqual([png.width, png.height])
    expect(meanOff(png.rgb, jpg.rgb)).toBeLessThan(0.012)
  })
  it('is an SVG of its true size whose letters lie where they lie in the picture', async () => {
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('fair.svg')).stderr).toBe('')
    const text = readFileSync(at('fair.svg'), 'utf8')
    expect(text).toContain('width="96mm" height="126mm"')
    expect(text).toContain('data-text="Tide fair office"')
    // The page alone, its type by a fill of its own: what another draws of the letters is where we draw them.
    const drawn = await sharp(at('fair.svg'), { density: 144 })
      .resize(378, 496, { fit: 'fill' })
      .flatten({ background: '#fff' })
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true })
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('own.png')).stderr).toBe('')
    const own = await readBy('own.png')
    const { width, height } = drawn.info
    expect([width, height]).toEqual([378, 496])
    const off = Math.round((3 / 25.4) * 100)
    let [same, dark] = [0, 0]
    // Where the title stands, dark letters on what is lighter.
    for (let y = Math.round(0.64 * height); y < 0.74 * height; y++)
      for (let x = Math.round(0.1 * width); x < 0.9 * width; x++) {
        if (drawn.data[y * width + x] > 60) continue
        dark++
        const i = 3 * ((y - off) * own.width + x - off)
        if (own.rgb[i] < 150) same++
      }
    expect(dark).toBeGreaterThan(300)
    expect(same / dark).toBeGreaterThan(0.97)
  })
  it('has plates that, printed over each other, are the page', async () => {
    expect(relief('compose', archive, '--poster', 'Tide Fair/Inked', '--out', at('inked.png')).stderr).toBe(
      '',
    )
    for (const [i, ink] of ['Red 1', 'Harbour blue'].entries())
      expect(
        relief(
          'compose',
          archive,
          '--poster',
          'Tide Fair/Inked',
          '--plate',
          ink,
          '--out',
          at(`plate${i}.png`),
        ).stderr,
      ).toBe('')
    const [page, red, blue] = await Promise.all(['inked.png', 'plate0.png', 'plate1.png'].map(readBy))
    const set = inkSet('#f3ead8', ['#b8432b', '#20465c'])
    const light = new Float64Array(3)
    const printed = Buffer.alloc(page.rgb.length)
    for (let i = 0; i < page.rgb.length; i += 3) {
      overprint(set, [1 - red.rgb[i] / 255, 1 - blue.rgb[i] / 255], light)
      for (let c = 0; c < 3; c++) printed[i + c] = Math.round(255 * linearToSrgb(light[c]))
    }
    expect(meanOff(printed, page.rgb)).toBeLessThan(1 / 255)
    // Each plate is grey, and says something of its own.
    for (const plate of [red, blue])
      for (let i = 0; i < plate.rgb.length; i += 3 * 97) expect(plate.rgb[i]).toBe(plate.rgb[i + 2])
    expect(meanOff(red.rgb, blue.rgb)).toBeGreaterThan(0.02)
  })
  it('hangs: a mock-up shows the page without its bleed, as large as it is asked for', async () => {
    expect(
      relief('compose', archive, '--poster', 'Tide Fair/Hung', '--size', '320x240', '--out', at('hung.png'))
        .stderr,
    ).toBe('')
    const hung = await readBy('hung.png')
    expect(relief('compose', archive, '--poster', 'Tide Fair', '--out', at('page.png')).stderr).toBe('')
    const page = await readBy('page.png')
    expect([hung.width, hung.height]).toEqual([320, 240])
    // The sheet stands in the middle, a share of its height left free; its own middle is the page's.
    const at01 = (own: typeof hung, x: number, y: number) => {
      const i = 3 * (Math.floor(y * own.height) * own.width + Math.floor(x * own.width))
      return [...own.rgb.subarray(i, i + 3)]
    }
    const high = 1 - 2 * 0.09
    const wide = (high * 240 * (90 / 120)) / 320
    for (const [u, v] of [
      [0.5, 0.02],
      [0.06, 0.5],
      [0.94, 0.3],
    ]) {
      const seen = at01(hung, 0.5 + (u - 0.5) * wide, 0.5 + (v - 0.5) * high)
      at01(page, u, v).forEach((value, c) => expect(Math.abs(seen[c] - value)).toBeLessThan(26))
    }
  })
})

describe('what cannot be', () => {
  const refused = (...args: string[]) => {
    const { status, stderr } = relief('compose', ...args)
    expect(status).not.toBe(0)
    return stderr
  }
  it('is refused by name', () => {
    expect(refused(archive, '--poster', 'No such', '--out', at('x.pdf'))).toMatch(
      /has no poster "No such", but "Tide Fair", "Tide Fair\/Upright", "Tide Fair\/Lying"/,
    )
    expect(refused(archive, '--out', at('x.pdf'))).toMatch(/--poster names one/)
    expect(refused(archive, '--poster', 'Tide Fair', '--sheet', 'Inner', '--out', at('x.png'))).toMatch(
      /one thing twice/,
    )
    expect(refused(archive, '--poster', 'Tide Fair', '--size', '10x20', '--out', at('x.pdf'))).toMatch(
      /size of its page/,
    )
    expect(refused(archive, '--sheet', 'Upright', '--out', at('x.png'))).toMatch(
      /has no sheet "Upright", but "Inner"/,
    )
    expect(refused(archive, '--poster', 'Tide Fair', '--plate', 'Red 1', '--out', at('x.png'))).toMatch(
      /prints Upright in no inks of its own/,
    )
    expect(refused(archive, '--poster', 'Tide Fair/Inked', '--plate', 'Green', '--out', at('x.png'))).toMatch(
      /has no ink "Green" on Inked, but "Red 1", "Harbour blue"/,
    )
    expect(refused(archive, '--plate', 'Red 1', '--out', at('x.png'))).toMatch(/--plate is of a page/)
    expect(refused(at('nowhere'), '--poster', 'Tide Fair', '--out', at('x.png'))).toMatch(
      /--poster names a poster of a project/,
    )
  })
})
