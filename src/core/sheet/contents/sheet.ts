import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { choiceParam, colourParam, grouped, numberParam } from '../../params'
import type { Tile } from '../../passes/tile'
import type { RenderSize } from '../sheet-resources'
import { defineContent } from './content-kind'
import { frameDistance, type FrameEdge } from './frame-distance'

const schema = z.object({
  zoom: numberParam({
    label: 'Enlarged',
    unit: '×',
    min: 0.1,
    max: 20,
    step: 0.01,
    default: 1,
    logarithmic: true,
  }),
  edge: choiceParam({
    label: 'Edge',
    options: { straight: 'Straight', rounded: 'Rounded', deckle: 'Deckled', torn: 'Torn' },
    default: 'straight',
  }),
  edgeSize: numberParam({
    label: 'How much',
    unit: 'px',
    min: 0,
    max: 1000,
    step: 1,
    default: 40,
    logarithmic: true,
  }),
  ...grouped('Rule', {
    rule: numberParam({
      label: 'Rule',
      unit: 'px',
      min: 0,
      max: 200,
      step: 0.5,
      default: 0,
      logarithmic: true,
    }),
    ruleInset: numberParam({
      label: 'Lies inside by',
      unit: 'px',
      min: 0,
      max: 2000,
      step: 1,
      default: 30,
      logarithmic: true,
    }),
    ruleColour: colourParam({ label: 'Rule colour', default: '#f4ead6' }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
})

const place = () => z.number().min(-8).max(9)

const sheetShape = {
  ...schema.shape,
  sheetId: z.string(),
  /** Its frame, in shares of the page: left, top, width, height. */
  box: z.tuple([place(), place(), z.number().min(0.001).max(16), z.number().min(0.001).max(16)]),
  /** Which place of the sheet lies in the middle of the frame, in shares of it. */
  focus: z.tuple([z.number().min(-2).max(3), z.number().min(-2).max(3)]).default([0.5, 0.5]),
}
export type SheetFrame = z.infer<z.ZodObject<typeof sheetShape>>

/** Another sheet, as it is now, in a frame on this one: what a poster is made of. It is painted where layers are planned. */
export const sheetContent = defineContent({
  kind: 'sheet',
  version: 1,
  label: 'Sheet',
  summary: 'A sheet of the project, as it is now, in a frame.',
  schema,
  shape: sheetShape,
})

/**
 * Where a sheet lies whose frame shows a part of it: at an enlargement of 1 it just covers the frame.
 * @param inner size of the sheet; @param page size of what it lies on, in any unit.
 * @returns in shares of the page; it may reach beyond it.
 */
export function sheetBox(
  { box: [x, y, width, height], zoom, focus }: Pick<SheetFrame, 'box' | 'zoom' | 'focus'>,
  inner: RenderSize,
  page: RenderSize,
): readonly [number, number, number, number] {
  const scale = zoom * Math.max((width * page.width) / inner.width, (height * page.height) / inner.height)
  const across = (inner.width * scale) / page.width
  const down = (inner.height * scale) / page.height
  return [x + width / 2 - focus[0] * across, y + height / 2 - focus[1] * down, across, down]
}

/**
 * Cuts a window of a sheet to its frame, and draws the rule within it, in place.
 * @param pixels straight display RGBA of the window. @param view what the page measures; @param scale pixels of it per pixel of the page.
 */
export function frameWindow(
  frame: SheetFrame,
  pixels: Float32Array,
  window: Tile,
  view: RenderSize,
  scale: number,
): void {
  const [x, y, width, height] = frame.box
  const box = {
    x: x * view.width,
    y: y * view.height,
    width: width * view.width,
    height: height * view.height,
  }
  const edge: FrameEdge = { shape: frame.edge, sizePx: frame.edgeSize * scale, seed: Math.round(frame.seed) }
  const rule = frame.rule * scale
  const inset = frame.ruleInset * scale
  const line = parseHex(frame.ruleColour)
  // Most windows lie well within.
  const reach = Math.max(edge.shape === 'straight' ? 0 : 2 * edge.sizePx, rule > 0 ? inset + rule : 0) + 2
  const isInside =
    window.x - reach >= box.x &&
    window.y - reach >= box.y &&
    window.x + window.width + reach <= box.x + box.width &&
    window.y + window.height + reach <= box.y + box.height
  if (isInside) return
  const straight: FrameEdge = { ...edge, shape: frame.edge === 'rounded' ? 'rounded' : 'straight' }
  for (let row = 0, i = 0; row < window.height; row++)
    for (let column = 0; column < window.width; column++, i += 4) {
      const [px, py] = [window.x + column + 0.5, window.y + row + 0.5]
      const inside = clamp01(frameDistance(box, edge, px, py) + 0.5)
      if (inside <= 0) {
        pixels[i + 3] = 0
        continue
      }
      if (rule > 0) {
        const far = frameDistance(box, straight, px, py) - inset
        const drawn = clamp01(far + 0.5) * clamp01(rule - far + 0.5)
        if (drawn > 0) {
          const alpha = drawn + pixels[i + 3] * (1 - drawn)
          for (let c = 0; c < 3; c++)
            pixels[i + c] = (line[c] * drawn + pixels[i + c] * pixels[i + 3] * (1 - drawn)) / alpha
          pixels[i + 3] = alpha
        }
      }
      pixels[i + 3] *= inside
    }
}

const clamp01 = (v: number): number => Math.min(1, Math.max(0, v))
