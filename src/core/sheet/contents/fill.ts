import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { defineContent } from './content-kind'

export const FILL_SHAPES = ['even', 'linear', 'radial', 'angular'] as const
export type FillShape = (typeof FILL_SHAPES)[number]

export const fillShapeLabels: Readonly<Record<FillShape, string>> = {
  even: 'One colour',
  linear: 'Linear',
  radial: 'Radial',
  angular: 'Angular',
}

const colour8 = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i, 'must look like #rrggbb or #rrggbbaa')
/** A place on the sheet, in shares of its width and height; it may lie outside. */
const place = z.tuple([z.number().min(-8).max(9), z.number().min(-8).max(9)])
export type SheetPlace = z.infer<typeof place>

const stopSchema = z.object({ at: z.number().min(0).max(1), colour: colour8 })
export type FillStop = z.infer<typeof stopSchema>

/** A colour, or colours one into the other. */
export const fillContent = defineContent({
  kind: 'fill',
  version: 1,
  label: 'Fill',
  summary: 'One colour, or a gradient of many.',
  shape: {
    shape: z.enum(FILL_SHAPES),
    /** One at least; an even fill shows the first. Places from 0 to 1, in order. */
    stops: z
      .array(stopSchema)
      .min(1)
      .max(64)
      .refine((stops) => stops.every((stop, i) => i === 0 || stop.at >= stops[i - 1].at), 'must be in order'),
    /** Where a linear gradient begins, the middle of the others. */
    from: place,
    /** Where a linear gradient ends, the rim of a radial one, the direction in which an angular one begins and ends. */
    to: place,
  },
  paint({ shape, stops, from, to }, { window, view }) {
    const out = new Float32Array(4 * window.width * window.height)
    const colourAt = colourAlong(stops)
    if (shape === 'even') {
      out.set(parseHex(stops[0].colour))
      for (let filled = 4; filled < out.length; filled *= 2)
        out.copyWithin(filled, 0, Math.min(filled, out.length - filled))
      return out
    }
    // In pixels of the view: a circle is round whatever the sheet's shape.
    const [x0, y0] = [from[0] * view.width, from[1] * view.height]
    const [dx, dy] = [to[0] * view.width - x0, to[1] * view.height - y0]
    const length2 = dx * dx + dy * dy
    const begins = Math.atan2(dy, dx)
    for (let y = 0, i = 0; y < window.height; y++) {
      const py = window.y + y + 0.5 - y0
      for (let x = 0; x < window.width; x++, i += 4) {
        const px = window.x + x + 0.5 - x0
        colourAt(along(shape, px, py, dx, dy, length2, begins), out, i)
      }
    }
    return out
  },
})

const TURN = 2 * Math.PI

/** How far along the gradient a place lies, 0…1; beyond its ends too. */
function along(
  shape: Exclude<FillShape, 'even'>,
  px: number,
  py: number,
  dx: number,
  dy: number,
  length2: number,
  begins: number,
): number {
  if (length2 === 0) return 1
  if (shape === 'linear') return (px * dx + py * dy) / length2
  if (shape === 'radial') return Math.sqrt((px * px + py * py) / length2)
  const turned = (Math.atan2(py, px) - begins) / TURN
  return turned - Math.floor(turned)
}

/** Gives the colour at a place along the stops: straight lines between them, in display values. */
function colourAlong(stops: readonly FillStop[]): (at: number, out: Float32Array, i: number) => void {
  const colours = Float64Array.from(stops.flatMap(({ colour }) => [...parseHex(colour)]))
  const last = stops.length - 1
  return (at, out, i) => {
    let k = 0
    while (k < last && at >= stops[k + 1].at) k++
    const from = 4 * k
    const to = 4 * Math.min(last, k + 1)
    const range = k < last ? stops[k + 1].at - stops[k].at : 0
    const share = range > 0 ? Math.min(1, Math.max(0, (at - stops[k].at) / range)) : 0
    out[i] = colours[from] + (colours[to] - colours[from]) * share
    out[i + 1] = colours[from + 1] + (colours[to + 1] - colours[from + 1]) * share
    out[i + 2] = colours[from + 2] + (colours[to + 2] - colours[from + 2]) * share
    out[i + 3] = colours[from + 3] + (colours[to + 3] - colours[from + 3]) * share
  }
}

/**
 * The ends of a gradient that runs at an angle and reaches the sheet's corners exactly (CSS Images 3, section 3.1.1), in
 * shares of the sheet. @param angleDeg 0 runs to the right, 90 down.
 */
export function gradientAcross(
  angleDeg: number,
  width: number,
  height: number,
): { from: SheetPlace; to: SheetPlace } {
  const angle = (angleDeg * Math.PI) / 180
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  const half = (Math.abs(width * dx) + Math.abs(height * dy)) / 2
  const at = (side: number): SheetPlace => [
    0.5 + (side * half * dx) / width,
    0.5 + (side * half * dy) / height,
  ]
  return { from: at(-1), to: at(1) }
}
