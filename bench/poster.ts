import { cpus } from 'node:os'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { posterPdf } from '@/core/poster/poster-pdf'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import type { SheetView } from '@/core/sheet/evaluate/sheet-plan'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { contentOf } from '@/core/sheet/new-layer'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import { shippedBytes } from '@/core/testing/fonts'
import { catalogueFont } from '@/core/type/font-catalogue'
import { nodeHands } from '@/engine/node-hands'
import { rowsTogether } from '@/engine/rows-together'
import { SheetStore } from '@/engine/sheet-store'
import { largeSheet, withEffects } from './reference/bench-sheet'

/** A2 at 300 dots an inch, without bleed. */
const PAGE = { width: 4961, height: 7016 }
const FONTS = ['league-gothic', 'anton', 'playfair-display', 'bodoni-moda']

/** Twelve blocks of type down the page. */
const blocks = () =>
  Array.from({ length: 12 }, (_, i) =>
    testLayer(`t${i}`, {
      content: contentOf('type', {
        text:
          i % 3 === 0
            ? 'PELL HARBOUR'
            : 'At low water the whole of the kiosk can be seen from the harbour office and the stones lie open to the gulls',
        fontId: FONTS[i % FONTS.length],
        size: i % 3 === 0 ? 420 : 90,
        align: i % 2 === 0 ? 'justify' : 'start',
        box: [0.06, 0.04 + i * 0.078, 0.88, 0.075],
      }),
    }),
  )

/**
 * A page of A2 at 300 dots an inch, a sheet of thirty layers (eight with masks) and twelve blocks of type, as a PDF: seconds and
 * memory. RELIEF_THREADS how many paint; RELIEF_EFFECTS how many effects its layers carry.
 */
export async function main(): Promise<void> {
  const threads = Number(process.env.RELIEF_THREADS ?? 2)
  const effects = Number(process.env.RELIEF_EFFECTS ?? 0)
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; ${PAGE.width} × ${PAGE.height}, ${threads} threads`,
  )
  const { sheet: bare, pictures } = largeSheet({ width: 3000, height: 2000 })
  const inner = { ...withEffects(bare, effects), id: 'inner' }
  const frame = testLayer('frame', { content: contentOf('sheet', { sheetId: 'inner', box: [0, 0, 1, 1] }) })
  const sheet = testSheet(PAGE, [frame, ...blocks()], { background: '#f4efe6', shown: { inner } })
  const store = new SheetStore()
  for (const [id, picture] of Object.entries(pictures)) store.pictures.set(id, { picture, revision: 1 })
  for (const id of FONTS) store.fonts.set(id, catalogueFont(id)?.files.map(shippedBytes) ?? [])
  const tiles = threads > 1 ? new KeptTiles(pictureMemory(768 * 2 ** 20, true)) : new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, store.resources)
  const hands = threads > 1 ? await nodeHands(tiles, threads - 1, sheet, store) : null
  const start = performance.now()
  const rowsOf = (view: SheetView, series: string) =>
    hands ? rowsTogether(hands, evaluator, view, series, 42) : rowsAlone(evaluator, view.size.width)
  const paper = { widthMm: 420, heightMm: 594, bleedMm: 0, marks: { crop: true, registration: true } }
  const options = { title: 'Bench', author: '', outlines: false }
  const pdf = await posterPdf(sheet, paper, options, evaluator, store.resources, rowsOf)
  const seconds = (performance.now() - start) / 1000
  // What of it is painting alone.
  const painting = performance.now()
  evaluator.begin(planSheet(sheet, { size: PAGE }, store.resources), 'again')
  for (const rows of rowsOf({ size: PAGE }, 'again')('bytes', () => undefined)) void rows
  const painted = (performance.now() - painting) / 1000
  hands?.close()
  const peak = (process.resourceUsage().maxRSS * 1024) / 1e6
  console.log(
    `${Object.keys(inner.nodes).length} nodes, 12 blocks, ${effects} effects: ${seconds.toFixed(1)} s (painting it again as pixels ${painted.toFixed(1)} s), ${(pdf.length / 1e6).toFixed(0)} MB of file, ${peak.toFixed(0)} MB resident at most`,
  )
}
