import { afterAll, beforeAll, expect, it } from 'vitest'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { pictureKernelOver, pictureMemory } from '@/core/picture/picture-kernel'
import { BenchPage } from './bench-page'

/** The picture kernel beside a browser's own canvas, which follows the same recommendation. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
})
afterAll(async () => {
  await page?.close()
})

const COLOURS = [
  [0, 0, 0],
  [255, 255, 255],
  [255, 0, 0],
  [51, 128, 204],
  [153, 64, 255],
  [20, 230, 120],
  [128, 128, 128],
  [240, 200, 30],
]

const memory = pictureMemory(4096, false)
const kernel = pictureKernelOver(memory)
const [BACKDROP, LAYER, WEIGHTS] = [1024, 1088, 1152]
/** One premultiplied colour under one straight one, by the kernel: the first of a block of four. */
function over(mode: number, backdrop: readonly number[], layer: readonly number[]): number[] {
  const put = (at: number, colour: readonly number[]) =>
    colour.forEach((v, c) => new Float32Array(memory.buffer, at + 16 * c, 4).fill(v))
  put(BACKDROP, backdrop)
  put(LAYER, layer)
  kernel.weighAll(WEIGHTS, 4, 1)
  kernel.overWeighed(mode, BACKDROP, LAYER, WEIGHTS, 4, 1)
  return [0, 1, 2, 3].map((c) => new Float32Array(memory.buffer, BACKDROP + 16 * c, 1)[0])
}

/** Modes beyond the recommendation, which a canvas does not have. */
const OWN: readonly string[] = ['plus-darker', 'subtract', 'divide']

it.each(BLEND_MODES.filter((mode) => !OWN.includes(mode)))(
  '%s gives what a canvas gives, for opaque and for half-clear colours',
  async (mode) => {
    const operation = mode === 'normal' ? 'source-over' : mode === 'plus-lighter' ? 'lighter' : mode
    const cases = COLOURS.flatMap((b) =>
      COLOURS.flatMap((s) => [
        [...b, 1, ...s, 1],
        [...b, 0.8, ...s, 0.6],
      ]),
    )
    const drawn = await page.driver.executeScript<number[][]>(
      `const c = document.createElement('canvas'); c.width = c.height = 1;
     const g = c.getContext('2d', { willReadFrequently: true });
     return arguments[1].map(([br, bg, bb, ba, sr, sg, sb, sa]) => {
       g.globalCompositeOperation = 'copy'; g.fillStyle = 'rgba(' + [br, bg, bb, ba] + ')'; g.fillRect(0, 0, 1, 1);
       g.globalCompositeOperation = arguments[0]; g.fillStyle = 'rgba(' + [sr, sg, sb, sa] + ')'; g.fillRect(0, 0, 1, 1);
       return Array.from(g.getImageData(0, 0, 1, 1).data)
     })`,
      operation,
      cases,
    )
    cases.forEach(([br, bg, bb, ba, sr, sg, sb, sa], i) => {
      const backdrop = over(
        BLEND_MODES.indexOf(mode),
        [(br / 255) * ba, (bg / 255) * ba, (bb / 255) * ba, ba],
        [sr / 255, sg / 255, sb / 255, sa],
      )
      const alpha = backdrop[3]
      for (let c = 0; c < 3; c++) {
        // The canvas keeps 8 bits, premultiplied: two roundings, spread by 1/alpha.
        expect(
          Math.abs((backdrop[c] / alpha) * 255 - drawn[i][c]),
          `${mode} of ${cases[i].join()}`,
        ).toBeLessThan(4)
      }
      expect(Math.abs(alpha * 255 - drawn[i][3])).toBeLessThan(2)
    })
  },
)
