// One file: three posters, layer after layer.
import type { ParamValues } from '@/core/params'
import { contentOf, evenFill, newEffect, newLayer, newMask, newTerm, wash } from '@/core/sheet/new-layer'
import type { Mask, SheetEffect, SheetNode } from '@/core/sheet/sheet-schema'
import type { MaskTerm } from '@/core/sheet/terms/registry'
import { PAPER_SIZES, pagePixels } from '@/data/page-size'
import { pageAlike } from '@/data/poster-series'
import type { Page, Project, ProjectSheet } from '@/data/project-schema'
import { resizePage } from '@/data/resize-page'
import type { namesOf } from './low-water-sheets'

/** The demo's posters: a fair's bill in four formats, a film's, and one of two inks. */

type Names = ReturnType<typeof namesOf>

let made = 0
const effect = (kind: string, params: ParamValues = {}, rest: Partial<SheetEffect> = {}): SheetEffect => {
  const begun = newEffect(`poster-effect-${++made}`, kind)
  return { ...begun, ...rest, params: { ...begun.params, ...params } }
}
const masked = (...terms: MaskTerm[]): Mask => ({ ...newMask(), terms })

type Drawn = Omit<Partial<SheetNode>, 'id'> & Pick<SheetNode, 'name' | 'content'> & { readonly id: string }

/** Proofs of a poster want no more than this to be judged on a screen. */
const DPI = 150

function paper(posterId: string, label: string): Page {
  const size = PAPER_SIZES.find((own) => own.label === label)
  if (!size) throw new Error(`there is no paper ${label}`)
  const { unit, widthMm, heightMm, bleedMm } = size
  const margin = Math.round(Math.min(widthMm, heightMm) * 0.05)
  return {
    posterId,
    unit,
    widthMm,
    heightMm,
    dpi: unit === 'px' ? size.dpi : DPI,
    bleedMm,
    marginsMm: [margin, margin, margin, margin],
    columns: 6,
    gutterMm: Math.round(margin / 4),
    baselineMm: 0,
    marks: { crop: unit !== 'px', registration: unit !== 'px' },
  }
}

function pageWith(
  id: string,
  name: string,
  shotId: string,
  page: Page,
  background: string,
  layers: readonly Drawn[],
): ProjectSheet {
  const nodes = layers.map((own) => newLayer({ ...own, id: `${page.posterId}-${own.id}` }))
  return {
    id,
    name,
    shotId,
    ...pagePixels(page),
    fit: 'extend',
    blendSpace: 'display',
    background,
    roots: nodes.map((node) => node.id),
    nodes: Object.fromEntries(nodes.map((node) => [node.id, node])),
    page,
  }
}

/** The same in another format, with places of its own. */
function formatOf(
  page: ProjectSheet,
  id: string,
  label: string,
  places: Readonly<Record<string, Partial<Record<string, unknown>>>>,
): ProjectSheet {
  const { posterId } = page.page as Page
  const like = structuredClone(pageAlike({ ...page, id, name: label }, page))
  resizePage(like, paper(posterId, label))
  for (const [own, fields] of Object.entries(places))
    Object.assign(like.nodes[`${posterId}-${own}`].content, fields)
  return like
}

const type = (text: string, fontId: string, rest: Readonly<Record<string, unknown>>): SheetNode['content'] =>
  contentOf('type', { text, fontId, ...rest })

/** Shows a part of the page alone: from one height to another, in shares of it. */
const band = (from: number, to: number): Mask =>
  masked(
    newTerm('polygon', {
      points: [
        [-0.1, from],
        [1.1, from],
        [1.1, to],
        [-0.1, to],
      ],
      curved: false,
    }),
  )

function tideFair(shotId: string, { part }: Names): ProjectSheet[] {
  const far = ['Low sun', 'Far shore', 'Headland', 'Beacon', 'Low water'].map(part)
  const page = pageWith('tide-fair-a3', 'A3', shotId, paper('tide-fair', 'A3'), '#efe2c6', [
    {
      id: 'quay',
      name: 'The quay',
      content: contentOf('sheet', {
        sheetId: 'sheet',
        box: [-0.16, 0.25, 1.32, 0.64],
        focus: [0.53, 0.5],
        zoom: 1,
      }),
      mask: masked(
        newTerm('roles', { keys: ['subject', 'ground'] }),
        newTerm('parts', { keys: far, join: 'subtract' }),
      ),
    },
    {
      id: 'title',
      name: 'TIDE',
      content: type('TIDE\nFAIR', 'anton', {
        size: 700,
        leading: 1.02,
        fit: 'lines',
        colour: '#96371c',
        box: [0.07, 0.07, 0.86, 0.6],
      }),
      mask: masked(newTerm('standing', { depth: 2 })),
      effects: [
        effect('inkBleed', { amount: 3.2, uneven: 0.7, seed: 3 }),
        effect('wornEdges', { amount: 0.34, size: 9, edge: 5, seed: 8 }),
      ],
    },
    { id: 'band', name: 'Band', content: evenFill('#24332f'), mask: band(0.875, 1.02) },
    {
      id: 'place',
      name: 'PELL HARBOUR QUAY',
      content: type('PELL HARBOUR QUAY', 'league-gothic', {
        size: 132,
        tracking: 18,
        colour: '#efe2c6',
        box: [0.07, 0.913, 0.6, 0.06],
      }),
    },
    {
      id: 'date',
      name: '9 AUGUST',
      content: type('9 AUGUST', 'league-gothic', {
        size: 132,
        tracking: 18,
        align: 'end',
        colour: '#e2a55a',
        box: [0.6, 0.913, 0.33, 0.06],
      }),
    },
    {
      id: 'press',
      name: 'Printed',
      content: wash(),
      effects: [
        effect('paperThrough', { amount: 0.24, size: 2.4, colour: '#efe2c6', seed: 5 }),
        effect('grain', { amount: 0.12, size: 1.8, colour: 0.1 }),
      ],
    },
  ])
  return [
    page,
    formatOf(page, 'tide-fair-square', 'Square', {
      title: { box: [0.05, 0.07, 0.52, 0.6], size: 380 },
      quay: { box: [-0.02, 0.16, 1.2, 0.76] },
      place: { size: 74, box: [0.05, 0.912, 0.6, 0.06] },
      date: { size: 74, box: [0.62, 0.912, 0.33, 0.06] },
    }),
    formatOf(page, 'tide-fair-story', 'Story', {
      title: { box: [0.06, 0.1, 0.88, 0.6], size: 520 },
      quay: { box: [-0.3, 0.3, 1.6, 0.575] },
      place: { size: 92, box: [0.07, 0.9, 0.86, 0.04] },
      date: { size: 92, align: 'start', box: [0.07, 0.945, 0.86, 0.04] },
    }),
    formatOf(page, 'tide-fair-banner', 'Banner', {
      title: { box: [0.03, 0.1, 0.15, 0.8], size: 250 },
      quay: { box: [0.2, 0.02, 0.6, 0.9], focus: [0.5, 0.5], zoom: 0.62 },
      place: { size: 46, box: [0.03, 0.91, 0.5, 0.07] },
      date: { size: 46, box: [0.6, 0.91, 0.37, 0.07] },
    }),
  ]
}

function lowTide(shotId: string): ProjectSheet[] {
  return [
    pageWith('last-bell-a3', 'A3', shotId, paper('last-bell', 'A3'), '#12181c', [
      {
        id: 'quay',
        name: 'The quay at dusk',
        content: contentOf('sheet', { sheetId: 'storm', box: [0, 0, 1, 1], focus: [0.5, 0.5], zoom: 1 }),
        effects: [
          effect('rangeTint', {
            darks: '#0d2230',
            darksBy: 0.7,
            middles: '#35505a',
            middlesBy: 0.45,
            lights: '#f0c48a',
            lightsBy: 0.5,
          }),
          effect('curve', {
            points: [
              [0, 0],
              [0.3, 0.16],
              [0.72, 0.66],
              [1, 0.95],
            ],
          }),
        ],
      },
      {
        id: 'dark',
        name: 'Falling dark',
        content: {
          kind: 'fill',
          version: 1,
          shape: 'linear',
          stops: [
            { at: 0, colour: '#0a1014e6' },
            { at: 0.3, colour: '#0a101400' },
            { at: 0.56, colour: '#0a101400' },
            { at: 0.82, colour: '#0a1014f2' },
            { at: 1, colour: '#0a1014ff' },
          ],
          from: [0.5, 0],
          to: [0.5, 1],
        },
      },
      {
        id: 'tagline',
        name: 'Tagline',
        content: type('the tide keeps what it is told', 'bodoni-moda-italic', {
          axes: { wght: 430, opsz: 28 },
          size: 58,
          align: 'middle',
          tracking: 10,
          colour: '#f1dfc0',
          box: [0.1, 0.055, 0.8, 0.04],
        }),
      },
      {
        id: 'title',
        name: 'THE LAST BELL',
        content: type('THE LAST\nBELL', 'bodoni-moda', {
          axes: { wght: 600, opsz: 96 },
          size: 300,
          leading: 0.92,
          tracking: 34,
          align: 'middle',
          fill: 'linear',
          stops: [
            [0, '#fbe9c6'],
            [1, '#d99a55'],
          ],
          box: [0.05, 0.66, 0.9, 0.2],
        }),
        effects: [effect('inkBleed', { amount: 1.4, uneven: 0.3, seed: 6 })],
      },
      {
        id: 'credits',
        name: 'Credits',
        content: type(
          'A STORY OF PELL HARBOUR   WITH THE KEEPER OF THE GAUGE   THE BELL RINGER\nAND THE GULL   COPPER BY THE ROOFERS OF THE QUAY   STONE BY THE SEA\nIN THE OLD TIDE HOUSE FROM NOVEMBER',
          'barlow-condensed',
          {
            size: 38,
            leading: 1.22,
            tracking: 60,
            align: 'middle',
            colour: '#cfc3ab',
            box: [0.1, 0.895, 0.8, 0.08],
          },
        ),
      },
      {
        id: 'film',
        name: 'Film',
        content: wash(),
        effects: [
          effect('vignette', { amount: 0.45 }),
          effect('grain', { amount: 0.2, size: 2, colour: 0.2, seed: 4 }),
        ],
      },
    ]),
  ]
}

function twoInks(shotId: string, { part }: Names): ProjectSheet[] {
  const far = ['Low sun', 'Far shore', 'Headland', 'Beacon', 'Low water'].map(part)
  return [
    pageWith('stone-and-copper-a3', 'A3', shotId, paper('stone-and-copper', 'A3'), '#f3ead8', [
      {
        id: 'copper',
        name: 'Copper ink',
        content: evenFill('#c8552b'),
        mask: band(0.205, 0.955),
        effects: [],
      },
      {
        id: 'quay',
        name: 'The quay',
        content: contentOf('sheet', {
          sheetId: 'sheet',
          box: [0, 0.205, 1, 0.75],
          focus: [0.53, 0.5],
          zoom: 1,
        }),
        mode: 'multiply',
        mask: masked(
          newTerm('roles', { keys: ['subject', 'ground'] }),
          newTerm('parts', { keys: far, join: 'subtract' }),
        ),
        effects: [
          effect('hueChromaLightness', { chroma: 0 }),
          effect('curve', {
            points: [
              [0, 0],
              [0.22, 0.12],
              [0.6, 0.78],
              [1, 1],
            ],
          }),
          effect('halftone', {
            size: 11,
            angleDeg: 22,
            spot: 'round',
            inks: 'one',
            ink: '#16323a',
            ground: 'paper',
            paper: '#ffffff',
          }),
        ],
      },
      {
        id: 'title',
        name: 'STONE & COPPER',
        content: type('STONE &\nCOPPER', 'alfa-slab-one', {
          size: 300,
          leading: 0.86,
          fit: 'lines',
          colour: '#16323a',
          box: [0.06, 0.04, 0.88, 0.2],
        }),
        effects: [effect('wornEdges', { amount: 0.3, size: 8, edge: 4, seed: 2 })],
      },
      {
        id: 'foot',
        name: 'Printers of the quay',
        content: type('Prints by the printers of the quay, all of October', 'zilla-slab-600', {
          size: 56,
          align: 'middle',
          colour: '#16323a',
          box: [0.06, 0.962, 0.88, 0.03],
        }),
      },
      {
        id: 'press',
        name: 'Printed',
        content: wash(),
        effects: [effect('paperThrough', { amount: 0.3, size: 2, colour: '#f3ead8', seed: 2 })],
      },
    ]),
  ]
}

/** Hangs the demo's posters. */
export function hangPosters(project: Project, shotId: string, names: Names): void {
  project.posters = [
    { id: 'tide-fair', name: 'Tide Fair' },
    { id: 'last-bell', name: 'The Last Bell' },
    { id: 'stone-and-copper', name: 'Stone and Copper' },
  ]
  project.fonts = []
  project.sheets.push(...tideFair(shotId, names), ...lowTide(shotId), ...twoInks(shotId, names))
  const inked = project.sheets.find(({ page }) => page?.posterId === 'stone-and-copper')
  if (inked?.page)
    inked.page.inks = {
      on: true,
      list: [
        { id: 'slate', name: 'Slate', colour: '#16323a', angleDeg: 75 },
        { id: 'copper', name: 'Copper', colour: '#c4623c', angleDeg: 15 },
      ],
      screened: false,
      linesPerInch: 45,
      slipMm: 0.35,
      slipSeed: 4,
    }
  project.sheets.push(
    mockup('tide-fair', 'tide-fair-a3', 'Harbour wall', shotId, {
      stand: 'taped',
      folds: 'eighths',
      foldDeg: 15,
      creases: 0.8,
      wall: 'plaster',
      wallColour: '#c9c0b0',
      azimuthDeg: -16,
      elevationDeg: 4,
      seed: 7,
    }),
    mockup('last-bell', 'last-bell-a3', 'Ticket window', shotId, {
      stand: 'window',
      folds: 'none',
      creases: 0.15,
      wall: 'bricks',
      wallColour: '#8e5d49',
      azimuthDeg: 13,
      elevationDeg: 3,
      room: 6,
      seed: 3,
    }),
    mockup('stone-and-copper', 'stone-and-copper-a3', 'Workbench', shotId, {
      stand: 'lying',
      folds: 'none',
      creases: 0.25,
      waves: 0.5,
      curl: 0.12,
      corner: 'lower right',
      cornerRoll: 0.34,
      wall: 'boards',
      wallColour: '#8d6d4e',
      azimuthDeg: -24,
      elevationDeg: 55,
      room: 4,
      seed: 11,
    }),
  )
}

/** A page as it hangs or lies somewhere. */
function mockup(
  posterId: string,
  pageId: string,
  name: string,
  shotId: string,
  form: Readonly<Record<string, unknown>>,
): ProjectSheet {
  const id = `${posterId}-mockup`
  const layer = newLayer({
    id: `${id}-paper`,
    name: 'Poster',
    content: contentOf('mockup', { sheetId: pageId, ...form }),
  })
  return {
    id,
    name,
    shotId,
    width: 2400,
    height: 1800,
    fit: 'extend',
    blendSpace: 'display',
    background: '#d9d2c6',
    roots: [layer.id],
    nodes: { [layer.id]: layer },
    mockupOf: posterId,
  }
}
