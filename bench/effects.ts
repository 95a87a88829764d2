import { cpus } from 'node:os'
import { EFFECTS } from '@/core/effects/registry'
import { seededRandom } from '@/core/math/sampling'
import type { ParamValues } from '@/core/params'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { planLayer, planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { newEffect, wholePicture } from '@/core/sheet/new-layer'
import { testLayer, testResources, testSheet } from '@/core/sheet/testing/sheets'
import { ball, fromFront, renderPass, sceneModel } from '@/core/testing/shapes'

const SIZE = { width: 1280, height: 800 }
const MEGAPIXELS = (SIZE.width * SIZE.height) / 1e6
const ROUNDS = 5

const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]

/** Every effect at its beginning, over a picture of 1280 × 800, one thread; a native library beside those that it has. */
export async function main(): Promise<void> {
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; one thread, ${SIZE.width} × ${SIZE.height}`,
  )
  const random = seededRandom(4)
  // Smooth, with some noise: nothing is wholly flat.
  const pixels = Float32Array.from({ length: 4 * SIZE.width * SIZE.height }, (_, i) => {
    const [x, y] = [(i >> 2) % SIZE.width, Math.floor((i >> 2) / SIZE.width)]
    return i % 4 === 3
      ? 1
      : 0.5 + 0.4 * Math.sin(x / 90 + (i % 4)) * Math.cos(y / 70) + 0.08 * (random() - 0.5)
  })
  const small = { width: 320, height: 200 }
  const passes = new Map(
    (['depth', 'normal', 'facing', 'id'] as const).map((kind) => [
      kind as string,
      renderPass(kind, [sceneModel(ball(1.1, 16), 'ball')], fromFront(4), small).result,
    ]),
  )
  const resources = testResources(
    { own: { ...SIZE, pixels } },
    { shotPass: (_, kind) => passes.get(kind) ?? null },
  )
  const tiles = new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, resources)
  const timed = (kind: string | null, isDraft: boolean): number => {
    const effect = kind === null ? [] : [newEffect('e', kind)]
    const params: ParamValues = kind === 'displace' ? { layer: 'other' } : {}
    const node = testLayer('own', {
      content: wholePicture('own'),
      effects: effect.map((own) => ({ ...own, params: { ...own.params, ...params } })),
    })
    const sheet = testSheet(SIZE, [node, testLayer('other', { content: wholePicture('own') })])
    const view = { size: SIZE, isDraft }
    const planned = planLayer(node, sheet, view, resources)
    if (!planned) throw new Error('the layer shows nothing')
    const once = () => {
      evaluator.begin(planSheet({ ...sheet, roots: [] }, view, resources), 'bench')
      const { across, down } = evaluator.grid
      const start = performance.now()
      for (let ty = 0; ty < down; ty++)
        for (let tx = 0; tx < across; tx++) evaluator.layerTile(planned.source, null, tx, ty, () => undefined)
      return performance.now() - start
    }
    // The first one makes what is kept: contents, maps, means.
    once()
    const found = median(Array.from({ length: ROUNDS }, once))
    tiles.tick()
    tiles.shrinkTo(128 * 2 ** 20)
    return found
  }
  const reading = timed(null, false)
  const native = await nativeLibrary(pixels)
  console.log(`reading a layer alone: ${reading.toFixed(1)} ms, taken off below\n`)
  console.log('effect                MP/s   ms  draft ms  native MP/s  ours / native')
  for (const { kind } of EFFECTS) {
    const own = Math.max(0.1, timed(kind, false) - reading)
    const draft = Math.max(0.1, timed(kind, true) - reading)
    const other = await native(kind)
    const beside =
      other === null
        ? ''
        : `${(MEGAPIXELS / (other / 1000)).toFixed(0).padStart(13)}${(other / own).toFixed(2).padStart(15)}`
    const speed = (MEGAPIXELS / (own / 1000)).toFixed(own > 100 ? 1 : 0)
    console.log(
      `${kind.padEnd(20)}${speed.padStart(6)}${own.toFixed(0).padStart(5)}${draft.toFixed(0).padStart(10)}${beside}`,
    )
  }
}

/** Times what is nearest to an effect in the native library that comes with the application's framework; null where it has none. */
async function nativeLibrary(pixels: Float32Array): Promise<(kind: string) => Promise<number | null>> {
  const { default: sharp } = await import('sharp').catch(() => ({ default: null }))
  if (!sharp) return () => Promise.resolve(null)
  sharp.concurrency(1)
  sharp.cache(false)
  type Pipe = ReturnType<typeof sharp>
  const does: Readonly<Record<string, (pipe: Pipe) => Pipe>> = {
    levels: (pipe) => pipe.linear(1.2, -20),
    exposure: (pipe) => pipe.gamma(1.4),
    threshold: (pipe) => pipe.threshold(128),
    invert: (pipe) => pipe.negate({ alpha: false }),
    whiteBalance: (pipe) => pipe.linear([1.1, 1, 0.85, 1], [0, 0, 0, 0]),
    hueChromaLightness: (pipe) => pipe.modulate({ hue: 20, saturation: 1.2 }),
    tint: (pipe) => pipe.tint('#4a2318'),
    gaussianBlur: (pipe) => pipe.blur(4),
    unsharpMask: (pipe) => pipe.sharpen({ sigma: 1.5 }),
    growShrink: (pipe) => pipe.dilate(3),
  }
  const bytes = Buffer.from(pixels.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))))
  const raw = { ...SIZE, channels: 4 as const }
  const run = async (change: (pipe: Pipe) => Pipe): Promise<number> => {
    const times: number[] = []
    for (let i = 0; i < ROUNDS; i++) {
      const start = performance.now()
      await change(sharp(bytes, { raw })).raw().toBuffer()
      times.push(performance.now() - start)
    }
    return median(times)
  }
  // What reading and writing alone take: taken off.
  const passing = await run((pipe) => pipe)
  return async (kind) => {
    const change = does[kind]
    const own = change ? (await run(change)) - passing : 0
    // What is lost in reading and writing cannot be told.
    return own > 0.5 ? own : null
  }
}
