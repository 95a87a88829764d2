import { readFile } from 'node:fs/promises'
import { cpus } from 'node:os'
import { passKind } from '@/core/passes/registry'
import { passStrokes } from '@/core/passes/pass-picture'
import { inkStrokes } from '@/core/lines/ink-strokes'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { readProjectArchive } from '@/data/project-archive'

/** The demo's proof as a screen of 1280 × 800 shows it. */
const PROOF = { width: 797, height: 498 }
const ROUNDS = 9

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]

/** From a change of a line layer's style to the composited proof, for every ready style of the demo's contour. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}; one thread, medians of ${ROUNDS}`)
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
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  const layer = Object.values(sheet.nodes).find(
    ({ content: held }) => held.kind === 'pass' && held.passId === 'pass-contour',
  )
  const contour = resultOf('pass-contour')
  if (!contour || layer?.content.kind !== 'pass') throw new Error('the demo has no contour layer')
  const { content } = layer
  const timed = (work: (round: number) => void) => {
    const times: number[] = []
    for (let i = 0; i < ROUNDS; i++) {
      const start = performance.now()
      work(i)
      times.push(performance.now() - start)
    }
    return median(times)
  }
  for (const [name, { look }] of Object.entries(passKind('contour').readyLooks)) {
    // A weight that differs each time, so that nothing kept serves.
    const own = (i: number) => ({ ...look, weight: (look.weight as number) * (1 + i / 1000) })
    const stroked = timed((i) => passStrokes(contour, own(i)))
    const strokes = passStrokes(contour, look)
    const inked = timed(
      () => strokes && inkStrokes(strokes, { x: 0, y: 0, ...PROOF }, PROOF.height, PROOF.width),
    )
    const whole = timed((i) => {
      const changed = { ...layer, content: { ...content, look: own(i + 20) } }
      const nodes = { ...sheet.nodes, [layer.id]: changed }
      evaluator.begin(planSheet({ ...sheet, nodes }, { size: PROOF }, resources))
      wholePicture(evaluator, PROOF, 'bytes')
    })
    console.log(
      `${name.padEnd(12)} whole ${whole.toFixed(0)} ms; of it ${stroked.toFixed(0)} stroked, ${inked.toFixed(0)} inked`,
    )
  }
}
