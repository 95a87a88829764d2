import { readFile } from 'node:fs/promises'
import { cpus } from 'node:os'
import { toStraight8 } from '@/core/picture/rgba-picture'
import { SheetCompositor } from '@/core/sheet/sheet-compositor'
import { readProjectArchive } from '@/data/project-archive'

/** Recomposite of the demo's stack after an opacity change, layer by layer, against a compositor without caches. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}`)
  const bytes = new Uint8Array(await readFile(new URL('../demo/low-water.zip', import.meta.url)))
  const { project, results } = await readProjectArchive(bytes, 'low-water.zip')
  const resultOf = (id: string) => {
    const pass = project.passes.find((p) => p.id === id || (id === 'id' && p.kind === 'id'))
    return (pass?.rendered && results.get(pass.rendered.resultId)) ?? null
  }
  const resources = { pass: resultOf, idPass: () => resultOf('id'), picture: () => null }
  const [sheet] = project.sheets
  const size = { width: sheet.width, height: sheet.height }
  const compositor = new SheetCompositor(resources)
  compositor.compose(sheet, { size })
  const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]
  const fresh: number[] = []
  for (let i = 0; i < 3; i++) {
    const start = performance.now()
    toStraight8(new SheetCompositor(resources).compose(sheet, { size }))
    fresh.push(performance.now() - start)
  }
  console.log(
    `${size.width}×${size.height}, ${sheet.layers.length} layers; from nothing: ${median(fresh).toFixed(0)} ms`,
  )
  for (const [index, layer] of sheet.layers.entries()) {
    if (!layer.visible) continue
    const times: number[] = []
    for (let i = 0; i < 9; i++) {
      const layers = sheet.layers.map((l, k) => (k === index ? { ...l, opacity: 0.4 + 0.05 * i } : l))
      const start = performance.now()
      toStraight8(compositor.compose({ ...sheet, layers }, { size }))
      if (i > 1) times.push(performance.now() - start)
    }
    console.log(`opacity of ${layer.name.padEnd(18)} ${median(times).toFixed(0)} ms`)
  }
}
