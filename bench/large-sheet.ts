import { cpus } from 'node:os'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone } from '@/core/sheet/evaluate/picture-rows'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { EXPORT_SERIES, exportSheet } from '@/core/sheet/export-sheet'
import { nodeHands } from '@/engine/node-hands'
import { rowsTogether } from '@/engine/rows-together'
import { SheetStore } from '@/engine/sheet-store'
import { largeSheet, withEffects } from './reference/bench-sheet'

/**
 * A sheet of thirty layers, eight with masks, exported to 16-bit PNG: seconds and memory. RELIEF_SIDE is its side, or its width
 * and height as 16384x10240; RELIEF_THREADS how many paint; RELIEF_EFFECTS how many effects its layers carry.
 */
export async function main(): Promise<void> {
  const [width, height] = (process.env.RELIEF_SIDE ?? '4096').split('x').map(Number)
  const size = { width, height: height ?? width }
  const threads = Number(process.env.RELIEF_THREADS ?? 1)
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; ${size.width} × ${size.height}, ${threads} threads`,
  )
  const { sheet: bare, pictures } = largeSheet(size)
  const effects = Number(process.env.RELIEF_EFFECTS ?? 0)
  const sheet = withEffects(bare, effects)
  const store = new SheetStore()
  for (const [id, picture] of Object.entries(pictures)) store.pictures.set(id, { picture, revision: 1 })
  const { resources } = store
  const tiles = threads > 1 ? new KeptTiles(pictureMemory(768 * 2 ** 20, true)) : new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, resources)
  const start = performance.now()
  const hands = threads > 1 ? await nodeHands(tiles, threads - 1, sheet, store) : null
  const options = { ...size, transparent: false }
  const layers = Object.keys(sheet.nodes).length
  const rowsOf = hands
    ? rowsTogether(hands, evaluator, { size, transparent: false }, EXPORT_SERIES, layers)
    : rowsAlone(evaluator, size.width)
  let bytes = 0
  for (const piece of exportSheet(sheet, evaluator, resources, 'png16', options, undefined, rowsOf))
    bytes += piece.length
  const seconds = (performance.now() - start) / 1000
  hands?.close()
  const peak = (process.resourceUsage().maxRSS * 1024) / 1e6
  console.log(
    `${layers} nodes, ${effects} effects: ${seconds.toFixed(1)} s, ${(bytes / 1e6).toFixed(0)} MB of file, ${peak.toFixed(0)} MB resident at most`,
  )
}
