import { z } from 'zod'
import { grownLines, type GrownLine, type Growth } from '../../lines/grown-lines'
import { inkStrokes } from '../../lines/ink-strokes'
import { DRAWN, type Strokes } from '../../lines/stroke-lines'
import { parseHex } from '../../math/colour'
import { choiceParam, colourParam, grouped, numberParam } from '../../params'
import type { RenderSize } from '../sheet-resources'
import { defineContent } from './content-kind'

const share = (label: string, byDefault: number) =>
  numberParam({ label, min: 0, max: 1, step: 0.01, default: byDefault })

export const growthLabels = { crack: 'Cracks', crease: 'Creases', fold: 'Folds' } as const satisfies Readonly<
  Record<Growth, string>
>

const schema = z.object({
  growth: choiceParam({
    label: 'Grows as',
    options: growthLabels,
    default: 'crack',
  }),
  weight: numberParam({
    label: 'Weight',
    unit: '‰',
    min: 0.2,
    max: 20,
    step: 0.1,
    default: 3.6,
    logarithmic: true,
  }),
  colour: colourParam({ label: 'Line', default: '#1c1815' }),
  jagged: share('Broken', 0.6),
  branches: share('Branches', 0.5),
  reach: share('Reach', 0.55),
  ...grouped('Lit edge', {
    edge: share('Lit edge', 0.35),
    edgeColour: colourParam({ label: 'Edge colour', default: '#fff2dc' }),
    edgeDeg: numberParam({ label: 'Edge towards', unit: '°', min: -180, max: 180, step: 1, default: -45 }),
  }),
  seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
})

const axis = () => z.number().min(-2).max(3)

/** The most lines that a layer grows from, and points of each. */
export const MOST_SEEDS = 400
export const MOST_SEED_POINTS = 512

/** Lines that grow from strokes of a pen: cracks in stone, creases in paper, folds in cloth. */
export const cracksContent = defineContent({
  kind: 'cracks',
  version: 1,
  label: 'Cracks and folds',
  summary: 'Cracks, creases or folds, grown from lines drawn by hand.',
  schema,
  shape: {
    ...schema.shape,
    /** What they grow from: lines in shares of the sheet. */
    lines: z
      .array(
        z
          .array(z.tuple([axis(), axis()]))
          .min(2)
          .max(MOST_SEED_POINTS),
      )
      .max(MOST_SEEDS)
      .default([]),
  },
  paint(cracks, { window, view, sheet }) {
    if (cracks.lines.length === 0) return null
    const { edge, lines } = grownStrokes(cracks, sheet)
    const inked = inkStrokes(lines, window, view.height, view.width)
    if (!edge) return inked
    const lit = inkStrokes(edge, window, view.height, view.width)
    for (let i = 0; i < lit.length; i += 4) {
      const [over, under] = [inked[i + 3], lit[i + 3] * cracks.edge * (1 - inked[i + 3])]
      const alpha = over + under
      if (alpha > 0)
        for (let c = 0; c < 3; c++) lit[i + c] = (inked[i + c] * over + lit[i + c] * under) / alpha
      lit[i + 3] = alpha
    }
    return lit
  },
})

type Cracks = z.infer<z.ZodObject<typeof cracksContent.shape>>

interface Grown {
  readonly aspect: number
  readonly lines: Strokes
  /** Their lit edges; null without. */
  readonly edge: Strokes | null
}
const known = new WeakMap<Cracks, Grown>()

/** Strokes of what has grown. @param sheet its shape. */
export function grownStrokes(cracks: Cracks, { width, height }: RenderSize): Grown {
  const aspect = width / height
  const held = known.get(cracks)
  if (held?.aspect === aspect) return held
  const { growth, jagged, branches, reach, edge, edgeDeg, weight } = cracks
  const grown = cracks.lines.flatMap((line, i) =>
    grownLines(
      line.map(([x, y]) => [x * aspect, y] as const),
      { growth, jagged, branches, reach, seed: Math.round(cracks.seed) + 977 * i },
    ),
  )
  const thick = weight / 2000
  const lines = strokesOf(grown, aspect, thick, cracks.colour, [0, 0])
  const angle = (edgeDeg * Math.PI) / 180
  const off = [0.8 * thick * Math.cos(angle), -0.8 * thick * Math.sin(angle)] as const
  const made = {
    aspect,
    lines,
    edge: edge > 0 ? strokesOf(grown, aspect, 0.9 * thick, cracks.edgeColour, off) : null,
  }
  known.set(cracks, made)
  return made
}

function strokesOf(
  grown: readonly GrownLine[],
  aspect: number,
  thick: number,
  colour: string,
  [dx, dy]: readonly [number, number],
): Strokes {
  const total = grown.reduce((sum, line) => sum + line.length, 0)
  const strokes = {
    aspect,
    count: grown.length,
    starts: new Uint32Array(grown.length + 1),
    points: new Float32Array(2 * total),
    radii: new Float32Array(total),
    colours: new Float32Array(3 * total),
    lines: new Uint32Array(grown.length).fill(DRAWN),
  }
  const rgb = parseHex(colour).slice(0, 3)
  let at = 0
  grown.forEach((line, l) => {
    for (const [x, y, weight] of line) {
      strokes.points.set([x + dx, y + dy], 2 * at)
      strokes.radii[at] = thick * Math.max(0.04, weight)
      strokes.colours.set(rgb, 3 * at)
      at++
    }
    strokes.starts[l + 1] = at
  })
  return strokes
}
