import { cpus } from 'node:os'
import { pictureKernelOver, pictureMemory } from '@/core/picture/picture-kernel'
import type { RgbaPicture } from '@/core/picture/rgba-picture'
import { BLEND_MODES, type BlendMode } from '@/core/sheet/blend-modes'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { testResources, testSheet } from '@/core/sheet/testing/sheets'
import { plainLoop } from './reference/plain-loops'
import { benchLayers, SIZE, softPicture } from './reference/bench-sheet'

const ROUNDS = 9
const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]
const timed = (work: (round: number) => void, rounds = ROUNDS): number => {
  const times: number[] = []
  for (let i = 0; i < rounds; i++) {
    const start = performance.now()
    work(i)
    times.push(performance.now() - start)
  }
  return median(times)
}

/** The picture kernel beside the loops of before and a native library; whole sheets; a wide blur. One thread. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}; medians of ${ROUNDS}`)
  await modes()
  sheets()
  blur()
}

async function modes(): Promise<void> {
  const count = SIZE.width * SIZE.height
  const megapixels = count / 1e6
  const memory = pictureMemory(1024 + count * (16 + 8 + 1) + 64, false)
  const kernel = pictureKernelOver(memory)
  const [backdropAt, keptAt, maskAt] = [1024, 1024 + 16 * count, 1024 + 24 * count]
  const { pixels } = softPicture(3)
  const weights = Float32Array.from({ length: count }, (_, i) => (i % 997) / 996)
  const rows = new Float32Array(memory.buffer, backdropAt, 4 * count)
  rows.set(pixels)
  // Blocks of a picture: r4 g4 b4 a4.
  const blocks = new Float32Array(4 * count)
  for (let p = 0; p < count; p++)
    for (let c = 0; c < 4; c++) blocks[16 * (p >> 2) + 4 * c + (p & 3)] = pixels[4 * p + c]
  rows.set(blocks)
  kernel.keep(backdropAt, keptAt, count)
  new Uint8Array(memory.buffer, maskAt, count).set(weights.map((w) => Math.round(255 * w)))
  const plain = new Float32Array(4 * count)
  const native = await nativeLibrary(pixels)
  console.log('\nmode           plain MP/s  kernel MP/s  ratio  native MP/s  kernel / native')
  for (const mode of BLEND_MODES) {
    const before = timed(() => plainLoop(plain, pixels, mode, 0.8, weights), 5)
    const number = BLEND_MODES.indexOf(mode)
    const now = timed(() => kernel.overKeptMasked(number, backdropAt, keptAt, maskAt, count, 0.8), 15)
    const other = await native(mode)
    const speed = (ms: number) => (1000 * megapixels) / ms
    const figures = [speed(before), speed(now), before / now].map((v, i) =>
      v.toFixed(i === 2 ? 1 : 0).padStart([10, 12, 7][i]),
    )
    const beside =
      other === null ? '' : `${speed(other).toFixed(0).padStart(11)} ${(other / now).toFixed(2).padStart(13)}`
    console.log(`${mode.padEnd(14)}${figures.join('')} ${beside}`)
  }
}

/** Times a mode in the native library that comes with the application's framework; null where it has none of that name. */
async function nativeLibrary(pixels: Float32Array): Promise<(mode: BlendMode) => Promise<number | null>> {
  const { default: sharp } = await import('sharp').catch(() => ({ default: null }))
  if (!sharp) return () => Promise.resolve(null)
  sharp.concurrency(1)
  sharp.cache(false)
  const names: Partial<Record<BlendMode, string>> = {
    normal: 'over',
    multiply: 'multiply',
    screen: 'screen',
    overlay: 'overlay',
    darken: 'darken',
    lighten: 'lighten',
    'color-dodge': 'colour-dodge',
    'color-burn': 'colour-burn',
    'hard-light': 'hard-light',
    'soft-light': 'soft-light',
    difference: 'difference',
    exclusion: 'exclusion',
  }
  const bytes = Buffer.from(pixels.map((v) => Math.round(255 * v)))
  const raw = { ...SIZE, channels: 4 as const }
  const base = Buffer.alloc(bytes.length, 200)
  /** What reading and writing alone take: taken off. */
  const passing = async (): Promise<number> => {
    const start = performance.now()
    await sharp(base, { raw }).raw().toBuffer()
    return performance.now() - start
  }
  return async (mode) => {
    const blend = names[mode]
    if (!blend) return null
    const times: number[] = []
    for (let i = 0; i < 5; i++) {
      const start = performance.now()
      await sharp(base, { raw })
        .composite([{ input: bytes, raw, blend: blend as 'over' }])
        .raw()
        .toBuffer()
      times.push(performance.now() - start - (await passing()))
    }
    return median(times)
  }
}

function sheets(): void {
  const { layers, pictures } = benchLayers()
  const resources = testResources(pictures)
  const sheet = testSheet(SIZE, layers, { background: '#f4efe6' })
  const tiles = new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, resources)
  const picture = (own: Sheet, series: string) => {
    evaluator.begin(planSheet(own, { size: SIZE }, resources), series)
    wholePicture(evaluator, SIZE, 'bytes')
  }
  const nothingKept = timed(() => {
    new SheetEvaluator(new KeptTiles(), resources).begin(planSheet(sheet, { size: SIZE }, resources))
    picture({ ...sheet, id: 'x' }, 'first')
  }, 1)
  /** Every opacity a little different, so that nothing but contents and masks serves again. */
  const shifted = (round: number): Sheet => ({
    ...sheet,
    nodes: Object.fromEntries(
      Object.entries(sheet.nodes).map(([id, node]) => [
        id,
        { ...node, opacity: node.opacity * (0.97 - round / 1000) },
      ]),
    ),
  })
  let series = 0
  const whole = timed((i) => picture(shifted(i), `all ${series++}`))
  console.log(`\n20 layers, 6 masks, groups, 2 washes, ${SIZE.width} × ${SIZE.height}, to bytes`)
  console.log(`with contents made:        ${nothingKept.toFixed(0)} ms`)
  console.log(`nothing kept but contents: ${whole.toFixed(1)} ms`)
  const plain = timed(() => plainSheet(layers.length, Object.values(pictures)), 3)
  console.log(
    `the loops of before, the same number of layers: ${plain.toFixed(0)} ms (${(plain / whole).toFixed(1)} times)`,
  )
  for (const [what, id] of [
    ['backmost', layers[0].id],
    ['a layer of the front half', 'l15'],
  ]) {
    picture(sheet, 'drag')
    const ms = timed((i) => {
      const node = { ...sheet.nodes[id], opacity: 0.3 + i / 40 }
      picture({ ...sheet, nodes: { ...sheet.nodes, [id]: node } }, 'drag')
    }, 15)
    console.log(`opacity of ${what}: ${ms.toFixed(1)} ms a picture, ${(1000 / ms).toFixed(0)} a second`)
  }
  console.log(`kept: ${(tiles.usedBytes / 2 ** 20).toFixed(0)} MB`)
}

/** As many layers by the loops of before: mixed modes, the masks as weights. */
function plainSheet(count: number, pictures: readonly RgbaPicture[]): void {
  const backdrop = new Float32Array(4 * SIZE.width * SIZE.height).fill(1)
  const weights = new Float32Array(SIZE.width * SIZE.height).fill(0.7)
  for (let i = 0; i < count; i++) {
    const { pixels } = pictures[i % pictures.length]
    plainLoop(backdrop, pixels, BLEND_MODES[i % BLEND_MODES.length], 0.8, i % 3 === 0 ? weights : null)
  }
  new Uint8ClampedArray(backdrop.map((v) => 255 * v))
}

function blur(): void {
  const pictures = { p: softPicture(9) }
  const resources = testResources(pictures)
  const { layers } = benchLayers()
  const [base] = layers
  for (const sigma of [4, 32, 100]) {
    const effect = {
      id: 'e',
      kind: 'gaussianBlur',
      version: 1,
      enabled: true,
      opacity: 1,
      mask: null,
      params: { sigma },
    }
    const sheet = testSheet(SIZE, [{ ...base, effects: [effect] }])
    const plain = testSheet(SIZE, [base])
    const tiles = new KeptTiles()
    const evaluator = new SheetEvaluator(tiles, resources)
    const picture = (own: Sheet) => {
      evaluator.begin(planSheet(own, { size: SIZE }, resources), 'blur')
      wholePicture(evaluator, SIZE, 'bytes')
    }
    picture(plain)
    const without = timed(() => picture(plain), 15)
    const withIt = timed((i) => {
      // Another width each time, so that nothing blurred serves again.
      const params = { sigma: sigma + i / 1000 }
      picture({ ...sheet, nodes: { [base.id]: { ...base, effects: [{ ...effect, params }] } } })
    }, 15)
    console.log(
      `gaussian of σ ${sigma}: ${(withIt - without).toFixed(1)} ms (${SIZE.width} × ${SIZE.height})`,
    )
  }
}
