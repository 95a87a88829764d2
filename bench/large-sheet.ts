import { cpus } from 'node:os'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { exportSheet } from '@/core/sheet/export-sheet'
import { testResources, testSheet } from '@/core/sheet/testing/sheets'
import { benchLayers } from './reference/bench-sheet'

/** A sheet of thirty layers, eight with masks, exported to 16-bit PNG: seconds and memory, one thread. */
export async function main(): Promise<void> {
  const side = Number(process.env.RELIEF_SIDE ?? 4096)
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}; ${side} × ${side}`)
  const { layers, pictures } = benchLayers()
  const more = layers
    .filter(({ content, id }) => content.kind === 'picture' && Number(id.slice(1)) < 10)
    .map((layer) => ({ ...layer, id: `${layer.id} again` }))
  const resources = testResources(pictures)
  const sheet = testSheet({ width: side, height: side }, [...layers, ...more], { background: '#f4efe6' })
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  const start = performance.now()
  const bytes = exportSheet(sheet, evaluator, resources, 'png16', {
    width: side,
    height: side,
    transparent: false,
  })
  const seconds = (performance.now() - start) / 1000
  const peak = (process.resourceUsage().maxRSS * 1024) / 1e6
  console.log(
    `${Object.keys(sheet.nodes).length} nodes: ${seconds.toFixed(1)} s, ${(bytes.length / 1e6).toFixed(0)} MB of file, ${peak.toFixed(0)} MB resident at most`,
  )
}
