import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { encode } from 'jpeg-js'
import { BRUSH_DEFAULTS, brushSchema } from '@/core/paint/brush'
import { TIPS } from '@/core/paint/tips/registry'
import { paramControls } from '@/core/params'
import { contentSchema, type Content } from '@/core/sheet/contents/registry'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { contentOf } from '@/core/sheet/new-layer'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { StrokeDesk } from '@/engine/stroke-desk'
import { loadProject } from '../cli/load-sheet'

const TIP = { width: 480, height: 90 }
const WHOLE = { width: 960, height: 600 }
const PAPER = [250, 247, 241]
/** Parts of the painted-over demo, in pixels of {@link WHOLE}. */
const PARTS = [
  { name: 'specks', x: 250, y: 0, width: 480, height: 300, shows: 'specks' },
  { name: 'fallen-shadow', x: 250, y: 290, width: 360, height: 180, shows: 'fallenShadow' },
  { name: 'cracks', x: 370, y: 420, width: 480, height: 180, shows: 'cracks' },
] as const
const TITLES = {
  specks: 'Specks',
  fallenShadow: 'Fallen shadow',
  cracks: 'Cracks, creases and folds',
} as const

/** Writes docs/PAINT.md with a stroke of each tip, and what the demo was painted over with. @param root of the repository. */
export async function main(root: string): Promise<void> {
  const folder = path.join(root, 'docs', 'paint')
  await mkdir(folder, { recursive: true })
  const { sheet, store } = await loadProject(path.join(root, 'demo', 'low-water.zip'), true, {
    sheet: 'Overpaint',
  })
  const tiles = new KeptTiles()
  // 1. A stroke of each tip.
  const desk = new StrokeDesk(tiles, store.resources, () => undefined)
  for (const { kind, brush } of TIPS) {
    const params = { ...BRUSH_DEFAULTS, ...brush, size: 62 }
    const rgba = desk.sample({ tip: kind, seed: 1, params }, TIP)
    const data = Buffer.from(rgba)
    for (let i = 0; i < data.length; i += 4) {
      const alpha = rgba[i + 3] / 255
      for (let c = 0; c < 3; c++) data[i + c] = rgba[i + c] * alpha + PAPER[c] * (1 - alpha)
      data[i + 3] = 255
    }
    await writeFile(path.join(folder, `${kind}.jpg`), encode({ ...TIP, data }, 88).data)
  }
  // 2. The demo as it was, and painted over.
  const evaluator = new SheetEvaluator(tiles, store.resources)
  const picture = (own: Sheet): Buffer => {
    evaluator.begin(planSheet(own, { size: WHOLE }, store.resources))
    return Buffer.from(wholePicture(evaluator, WHOLE, 'bytes'))
  }
  const without = { ...sheet, roots: sheet.roots.filter((id) => !id.startsWith('o-')) }
  await writeFile(path.join(folder, 'before.jpg'), encode({ ...WHOLE, data: picture(without) }, 86).data)
  const over = picture(sheet)
  await writeFile(path.join(folder, 'over.jpg'), encode({ ...WHOLE, data: over }, 86).data)
  for (const { name, x, y, width, height } of PARTS) {
    const data = Buffer.alloc(4 * width * height)
    for (let row = 0; row < height; row++) {
      const from = 4 * ((y + row) * WHOLE.width + x)
      over.copy(data, 4 * row * width, from, from + 4 * width)
    }
    await writeFile(path.join(folder, `${name}.jpg`), encode({ width, height, data }, 88).data)
  }
  await writeFile(path.join(root, 'docs', 'PAINT.md'), page())
}

const namesOf = (content: Content): string =>
  paramControls(contentSchema(content) ?? brushSchema)
    .map((control) => {
      const unit = control.control === 'number' && control.unit !== '' ? ` (${control.unit})` : ''
      return `_${control.label}_${unit}`
    })
    .join(', ')

const page = (): string =>
  [
    '# Painting over',
    '',
    'Pictures are the demo, _Low Water_: its sheet as it was, and as it is painted over on the sheet _Overpaint_. `node scripts/paint-pictures.mjs` writes this page.',
    '',
    '| Before | Painted over |',
    '| --- | --- |',
    '| ![Before](paint/before.jpg) | ![Painted over](paint/over.jpg) |',
    '',
    '## Tips',
    '',
    '| | |',
    '| --- | --- |',
    ...TIPS.map(
      ({ kind, label, summary }) => `| **${label}.** ${summary} | ![${label}](paint/${kind}.jpg) |`,
    ),
    '',
    `Each is led by: ${paramControls(brushSchema)
      .map((control) => `_${control.label}_`)
      .join(', ')}.`,
    '',
    '## Layers that the passes give',
    ...PARTS.flatMap(({ name, shows }) => {
      const content = contentOf(shows)
      return [
        '',
        `### ${TITLES[shows]}`,
        '',
        `![${TITLES[shows]}](paint/${name}.jpg)`,
        '',
        `${namesOf(content)}.`,
      ]
    }),
    '',
  ].join('\n')
