import { cpus } from 'node:os'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { writeTile } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { coarser } from '@/core/sheet/evaluate/sheet-plan'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { newEffect } from '@/core/sheet/new-layer'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { testSheet } from '@/core/sheet/testing/sheets'
import { findEffect } from '@/core/effects/registry'
import { paramControls } from '@/core/params'
import { DraftPace } from '@/engine/draft-pace'
import { SheetStore } from '@/engine/sheet-store'
import { benchLayers, SIZE, withEffects } from './reference/bench-sheet'

/** Kinds whose slider is dragged: effects of a pixel, blurs, and what takes long. */
const KINDS = [
  'levels',
  'exposure',
  'curve',
  'hueChromaLightness',
  'rangeTint',
  'vignette',
  'grain',
  'gaussianBlur',
  'unsharpMask',
  'painterlySmoothing',
  'halftone',
  'lineScreen',
  'hatching',
  'crossHatching',
  'stipple',
] as const
/** Changes of each slider; the median of those that come after the pace has settled counts. */
const MOVES = 30
const SETTLING = 15

/**
 * A slider of one effect dragged on a sheet of twenty layers with ten effects, at 1280 × 800 on one thread, as the proof is made
 * while a hand moves, at the pace that it keeps: changes a second, for a layer in the front half; beside it, each picture fine.
 */
export function main(): void {
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; ${SIZE.width} × ${SIZE.height}, one thread`,
  )
  const { layers, pictures } = benchLayers()
  const base = withEffects(testSheet(SIZE, layers, { background: '#f4efe6' }), 10)
  const store = new SheetStore()
  for (const [id, picture] of Object.entries(pictures)) store.pictures.set(id, { picture, revision: 1 })
  for (const kind of KINDS) {
    const tiles = new KeptTiles()
    const evaluator = new SheetEvaluator(tiles, store.resources)
    const made = newEffect('dragged', kind)
    const schema = findEffect(kind)?.schema
    const control = schema && paramControls(schema).find((own) => own.control === 'number')
    const at = (i: number): Sheet => {
      const node = base.nodes.l14
      const params = { ...made.params }
      if (control?.control === 'number') params[control.name] = control.default * (1 + 0.013 * i) + 0.001 * i
      else if (kind === 'curve')
        params.points = [
          [0, 0],
          [0.5, 0.4 + 0.01 * i],
          [1, 1],
        ]
      return {
        ...base,
        nodes: { ...base.nodes, l14: { ...node, effects: [...node.effects, { ...made, params }] } },
      }
    }
    const bytes = new Uint8Array(4 * SIZE.width * SIZE.height)
    const show = (i: number, coarse: 1 | 2 | 4): number => {
      const start = performance.now()
      tiles.tick()
      const view = { size: SIZE, isDraft: true, coarse }
      evaluator.begin(planSheet(at(i), view, store.resources), 'view')
      const { across, down } = evaluator.grid
      const { width } = coarser(SIZE, coarse)
      for (let ty = 0; ty < down; ty++)
        for (let tx = 0; tx < across; tx++)
          evaluator.tile(tx, ty, (from) =>
            writeTile(evaluator, tx, ty, from, 'bytes', bytes.subarray(4 * 128 * ty * width), width),
          )
      const milliseconds = performance.now() - start
      tiles.shrinkTo(320 * 2 ** 20)
      return milliseconds
    }
    const median = (times: number[]) => times.sort((a, b) => a - b)[times.length >> 1]
    for (let i = 0; i < 3; i++) show(i, 1)
    const fine = median([3, 4, 5, 6, 7].map((i) => show(i, 1)))
    const pace = new DraftPace()
    let coarse: 1 | 2 | 4 = 1
    const times = Array.from({ length: MOVES }, (_, i) => {
      coarse = pace.next(true, performance.now())
      const took = show(i + 8, coarse)
      pace.tell(coarse, took, performance.now())
      return took
    })
    const kept = median(times.slice(SETTLING))
    const how = coarse === 1 ? 'fine' : `1/${coarse} of the size`
    console.log(
      `${kind}: ${(1000 / kept).toFixed(1)} changes a second, ${kept.toFixed(0)} ms each, ${how}; fine: ${(1000 / fine).toFixed(1)}, ${fine.toFixed(0)} ms`,
    )
  }
}
