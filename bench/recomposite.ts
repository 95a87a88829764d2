import { readFile } from 'node:fs/promises'
import { cpus } from 'node:os'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { readProjectArchive } from '@/data/project-archive'

/** Recomposite of the demo's stack after an opacity change, layer by layer, against an evaluator that keeps nothing yet. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}`)
  const bytes = new Uint8Array(await readFile(new URL('../demo/low-water.zip', import.meta.url)))
  const { project, results } = await readProjectArchive(bytes, 'low-water.zip')
  const resultOf = (id: string) => {
    const pass = project.passes.find((p) => p.id === id || (id === 'id' && p.kind === 'id'))
    return (pass?.rendered && results.get(pass.rendered.resultId)) ?? null
  }
  const resources = {
    pass: resultOf,
    shotPass: () => resultOf('id'),
    picture: () => null,
    revision: () => '',
    shotRevision: () => '',
    paintTile: () => null,
    font: () => null,
  }
  const [sheet] = project.sheets
  const size = { width: sheet.width, height: sheet.height }
  const picture = (evaluator: SheetEvaluator, own: Sheet) => {
    evaluator.begin(planSheet(own, { size }, resources))
    wholePicture(evaluator, size, 'bytes')
  }
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  picture(evaluator, sheet)
  const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]
  const fresh: number[] = []
  for (let i = 0; i < 3; i++) {
    const start = performance.now()
    picture(new SheetEvaluator(new KeptTiles(), resources), sheet)
    fresh.push(performance.now() - start)
  }
  console.log(
    `${size.width}×${size.height}, ${sheet.roots.length} layers; from nothing: ${median(fresh).toFixed(0)} ms`,
  )
  for (const id of sheet.roots) {
    const node = sheet.nodes[id]
    if (!node.visible) continue
    const times: number[] = []
    for (let i = 0; i < 9; i++) {
      const nodes = { ...sheet.nodes, [id]: { ...node, opacity: 0.4 + 0.05 * i } }
      const start = performance.now()
      picture(evaluator, { ...sheet, nodes })
      if (i > 1) times.push(performance.now() - start)
    }
    console.log(`opacity of ${node.name.padEnd(18)} ${median(times).toFixed(1)} ms`)
  }
}
