// One file: one overpaint, layer after layer.
import { seededRandom } from '@/core/math/sampling'
import { parseHex } from '@/core/math/colour'
import { BRUSH_DEFAULTS, type BrushParams } from '@/core/paint/brush'
import { withTiles, type PaintPlace } from '@/core/paint/live-paint'
import { paintNames, type PaintForm } from '@/core/paint/paint-names'
import type { PenSample } from '@/core/paint/stroke-walker'
import { findTip } from '@/core/paint/tips/registry'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { contentOf, gradientFill, newLayer, newMask, newTerm, surfaceTerm } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import type { Mask, Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import { SheetStore } from '@/engine/sheet-store'
import { StrokeDesk } from '@/engine/stroke-desk'
import type { Stroke } from '@/engine/stroke-messages'
import { hangLowWater, type namesOf } from './low-water-sheets'

/**
 * *Low Water* painted over: a cool veil that chalk takes away where the sun comes in, light laid by hand, cracks in the quay, the
 * shadow of the kiosk, and dust in the air. Its strokes are those of a pen, recorded here as the ways it went.
 */

type Point = readonly [x: number, y: number]
type Way = readonly Point[]

const KIOSK = [
  ...['Plinth', 'Kiosk wall', 'Wall boards', 'Lower panel frames', 'Upper panel frames', 'Corner posts'],
  ...['Belt course', 'Cornice', 'Dentils', 'Door leaf', 'Door frame', 'Roof', 'Roof seams', 'Roof ridges'],
  ...['Gutter', 'Lantern sill', 'Lantern posts', 'Lantern glass', 'Lantern bars', 'Lantern cornice'],
  ...['Lantern cap', 'Finial', 'Wind vane'],
]
const QUAY = ['Quay wall', 'Quay kerb', 'Quay paving']
const QUAY_TOP = ['Quay paving', 'Quay kerb', 'Rope coil', 'Railing posts', 'Rails']

/** Tiles that were painted, by their names. */
export type DemoPaint = Map<string, { readonly bytes: Uint8Array<ArrayBuffer>; readonly form: PaintForm }>

/** A hand that draws lines side by side between two sides, now here, now there, a little unevenly. Shares of the sheet. */
function hatched(from: Way, to: Way, count: number, uneven: number, seed: number): Way[] {
  const random = seededRandom(seed)
  const off = () => uneven * (random() - 0.5)
  const along = (way: Way, t: number): Point => {
    const at = Math.min(0.9999, Math.max(0, t)) * (way.length - 1)
    const [a, b] = [way[Math.floor(at)], way[Math.floor(at) + 1]]
    const share = at - Math.floor(at)
    return [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])]
  }
  return Array.from({ length: count }, (_, i) => {
    const t = (i + 0.5 + 0.6 * (random() - 0.5)) / count
    const [a, b] = [along(from, t), along(to, t)]
    const bend = off()
    const [start, end] = [random() * 0.12, 1 - random() * 0.12]
    const at = (s: number): Point => [
      a[0] + s * (b[0] - a[0]) + bend * Math.sin(Math.PI * s),
      a[1] + s * (b[1] - a[1]) + 0.6 * bend * Math.sin(Math.PI * s),
    ]
    const way = [0, 0.2, 0.4, 0.6, 0.8, 1].map((s) => at(start + (end - start) * s))
    return i % 2 ? way.reverse() : way
  })
}

/** Paints strokes into a sheet that is being hung. */
class Painter {
  private readonly paint: DemoPaint
  private readonly store = new SheetStore()
  private readonly desk = new StrokeDesk(new KeptTiles(), this.store.resources, () => undefined)
  private count = 0

  constructor(
    private sheet: Sheet,
    paint: DemoPaint,
  ) {
    this.paint = paint
  }

  /** @param ways in shares of the sheet; a pen presses most in the middle of each. */
  async strokes(
    place: PaintPlace,
    act: Stroke['act'],
    tip: string,
    params: Partial<BrushParams>,
    ways: readonly Way[],
  ): Promise<void> {
    const { width, height } = this.sheet
    for (const way of ways) {
      const number = ++this.count
      const stroke: Stroke = {
        place,
        brush: { tip, seed: 1, params: { ...BRUSH_DEFAULTS, ...findTip(tip)?.brush, ...params } },
        act,
        within: null,
        mirrors: { x: null, y: null },
        seed: number,
      }
      const samples = way.map(([x, y], i): PenSample => ({
        ...{ x: x * width, y: y * height, tiltX: 0, tiltY: 0, twist: 0, at: 16 * i },
        pressure: 0.35 + 0.6 * Math.sin((Math.PI * (i + 0.5)) / way.length),
      }))
      this.desk.begin(number, stroke, this.sheet)
      this.desk.add(number, samples)
      const tiles = await this.desk.end(number, samples[samples.length - 1])
      const form = act.kind === 'mask' ? 'mask' : 'layer'
      for (const { name, bytes } of tiles)
        if (name !== null && bytes) {
          this.paint.set(name, { bytes, form })
          this.store.paint.set(name, new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2))
        }
      this.desk.settle(number, tiles)
      this.desk.forget(number)
      const named = Object.fromEntries(tiles.map(({ place: at, name }) => [at, name]))
      const painted = withTiles(this.sheet, { place, tiles: named })
      this.sheet.nodes[place.layerId] = painted.nodes[place.layerId]
    }
  }
}

const masked = (...terms: Mask['terms']): Mask => ({ ...newMask(), terms })

/** Hangs *Low Water*, painted over. @returns the tiles that were painted. */
export async function hangOverpaint(sheet: Sheet, names: ReturnType<typeof namesOf>): Promise<DemoPaint> {
  hangLowWater(sheet, names)
  const { width, height } = sheet
  const paint: DemoPaint = new Map()
  const grid = { width, height, tiles: {} }
  const { part } = names
  /** Before the grade and the paper: they lie over all of it. */
  const before = (id: string) => ({ parent: null, index: sheet.roots.indexOf(`layer-${id}`) })
  const hang = (layer: Partial<SheetNode> & Pick<SheetNode, 'id' | 'name' | 'content'>, over: string) =>
    insertNode(sheet, newLayer(layer), before(over))

  hang(
    {
      id: 'o-shadow',
      name: 'Shadow of the kiosk',
      note: 'A shadow the sun does not throw, laid where the picture wants one: from the foot along the quay, found on the depths.',
      mode: 'multiply',
      opacity: 0.9,
      content: contentOf('fallenShadow', {
        parts: KIOSK.map(part),
        foot: [0.546, 0.66],
        head: [0.546, 0.02],
        falls: [0.2, 0.86],
        colour: '#2a1c3c',
        strength: 1,
        soft: 0.8,
        softer: 9,
        fades: 0.4,
        slack: 0.08,
      }),
      mask: masked(surfaceTerm('parts', QUAY_TOP.map(part))),
    },
    'ink',
  )
  hang(
    {
      id: 'o-cracks',
      name: 'Cracks in the quay',
      note: 'Grown, not drawn: the seed decides where, the weight how old the stone is.',
      mode: 'multiply',
      opacity: 0.86,
      content: contentOf('cracks', {
        weight: 3.4,
        colour: '#2c1a22',
        jagged: 0.7,
        branches: 0.45,
        reach: 0.5,
        edge: 0.5,
        edgeColour: '#ffe2b0',
        seed: 12,
        lines: [
          [
            [0.47, 0.76],
            [0.485, 0.83],
            [0.475, 0.9],
            [0.5, 0.985],
          ],
          [
            [0.83, 0.73],
            [0.81, 0.78],
            [0.825, 0.84],
          ],
          [
            [0.33, 0.74],
            [0.345, 0.8],
            [0.335, 0.86],
          ],
          [
            [0.62, 0.8],
            [0.66, 0.83],
            [0.67, 0.88],
          ],
        ],
      }),
      mask: masked(surfaceTerm('parts', QUAY.map(part))),
    },
    'grade',
  )
  const veilTerm = newTerm('painted', { ...grid, outside: true, join: 'add' })
  hang(
    {
      id: 'o-veil',
      name: 'Cool veil',
      note: 'A cool veil over the shadows, so that the light of the hand has something to stand against.',
      mode: 'multiply',
      opacity: 0.7,
      content: gradientFill('linear', ['#93a8c0', '#8296b8', '#586c98'], [0.5, 0], [0.5, 1]),
      mask: masked(veilTerm),
    },
    'grade',
  )
  hang(
    {
      id: 'o-light',
      name: 'Light by hand',
      note: 'Painted with a dry brush where the evening falls: what no renderer gave.',
      mode: 'soft-light',
      opacity: 0.95,
      content: { kind: 'painted', version: 1, ...grid },
      mask: masked(surfaceTerm('roles', ['subject'])),
    },
    'grade',
  )
  hang(
    {
      id: 'o-specks',
      name: 'Dust in the light',
      note: 'Specks in three depths: sharp where the kiosk stands, soft before and behind it.',
      mode: 'screen',
      content: contentOf('specks', {
        many: 130,
        size: 4.6,
        uneven: 0.8,
        brightness: 1.7,
        glow: 0.7,
        flicker: 0.6,
        clumps: 0.75,
        colour: '#fff0cf',
        farColour: '#ffcf8a',
        planes: 4,
        near: -0.7,
        far: 0.9,
        focus: 0.3,
        aperture: 13,
        drift: 1.4,
        driftDeg: 25,
        seed: 7,
      }),
      mask: masked(
        newTerm('gradient', { shape: 'radial', from: [0.66, 0.34], to: [0.08, 0.62], join: 'add' }),
      ),
    },
    'paper',
  )

  const painter = new Painter(sheet, paint)
  const veil: PaintPlace = { layerId: 'o-veil', term: 0 }
  const show = { kind: 'mask', value: 0 } as const
  // 1. Chalk takes the veil away where the sun comes in: broad first, then finer.
  const sky = hatched(
    [
      [0.58, 0.02],
      [0.66, 0.2],
      [0.6, 0.45],
    ],
    [
      [1.02, 0.03],
      [1.02, 0.2],
      [1.02, 0.46],
    ],
    15,
    0.05,
    2,
  )
  // The sun itself is open before anything: a soft tip about it, as wide as its glow.
  await painter.strokes(veil, show, 'softRound', { size: 330, flow: 0.5, whole: 0.8, spacing: 0.06 }, [
    [
      [0.7, 0.22],
      [0.74, 0.24],
      [0.76, 0.25],
    ],
    [
      [0.68, 0.3],
      [0.78, 0.33],
      [0.9, 0.33],
    ],
  ])
  await painter.strokes(
    veil,
    show,
    'chalk',
    { size: 120, flow: 0.3, whole: 0.5, bite: 0.6, grainSize: 0.6 },
    sky,
  )
  const water = hatched(
    [
      [0.6, 0.47],
      [0.66, 0.6],
    ],
    [
      [1.02, 0.47],
      [1.01, 0.66],
    ],
    9,
    0.01,
    3,
  )
  await painter.strokes(veil, show, 'chalk', { size: 54, flow: 0.45, whole: 0.85 }, water)
  const roof = hatched(
    [
      [0.556, 0.1],
      [0.596, 0.1],
    ],
    [
      [0.56, 0.33],
      [0.67, 0.33],
    ],
    9,
    0.008,
    4,
  )
  await painter.strokes(veil, show, 'chalk', { size: 40, flow: 0.6, whole: 0.95 }, roof)
  const walls = hatched(
    [
      [0.555, 0.35],
      [0.632, 0.35],
    ],
    [
      [0.555, 0.63],
      [0.632, 0.61],
    ],
    8,
    0.006,
    5,
  )
  await painter.strokes(veil, show, 'chalk', { size: 42, flow: 0.55, whole: 0.92 }, walls)
  const top = hatched(
    [
      [0.56, 0.66],
      [0.44, 0.75],
    ],
    [
      [0.92, 0.66],
      [0.9, 0.71],
    ],
    8,
    0.012,
    6,
  )
  await painter.strokes(veil, show, 'chalk', { size: 52, flow: 0.6, whole: 0.95 }, top)
  const face = hatched(
    [
      [0.46, 0.8],
      [0.5, 0.99],
    ],
    [
      [0.93, 0.74],
      [0.9, 0.93],
    ],
    8,
    0.012,
    8,
  )
  await painter.strokes(veil, show, 'chalk', { size: 56, flow: 0.4, whole: 0.72 }, face)
  await painter.strokes(veil, show, 'chalk', { size: 22, flow: 0.6, whole: 0.85 }, [
    [
      [0.285, 0.865],
      [0.2, 0.872],
      [0.13, 0.858],
    ],
    [
      [0.29, 0.88],
      [0.25, 0.93],
      [0.2, 0.94],
    ],
    [
      [0.151, 0.62],
      [0.151, 0.72],
      [0.15, 0.79],
    ],
    [
      [0.117, 0.585],
      [0.118, 0.7],
      [0.121, 0.8],
    ],
    [
      [0.086, 0.66],
      [0.087, 0.72],
      [0.092, 0.79],
    ],
  ])
  // 2. Light laid over the forms, with a dry tip that follows their edges.
  const light: PaintPlace = { layerId: 'o-light', term: null }
  const lay = (hex: string): Stroke['act'] => {
    const [r, g, b] = parseHex(hex)
    return { kind: 'paint', rgb: [r, g, b] }
  }
  await painter.strokes(light, lay('#ffdf9e'), 'dryBristle', { size: 34, flow: 0.5, whole: 0.85 }, [
    ...hatched(
      [
        [0.575, 0.12],
        [0.6, 0.12],
      ],
      [
        [0.61, 0.33],
        [0.665, 0.33],
      ],
      5,
      0.004,
      9,
    ),
    ...hatched(
      [
        [0.6, 0.36],
        [0.63, 0.36],
      ],
      [
        [0.6, 0.62],
        [0.63, 0.61],
      ],
      4,
      0.003,
      10,
    ),
  ])
  await painter.strokes(light, lay('#ffc983'), 'chalk', { size: 44, flow: 0.45, whole: 0.75 }, [
    ...hatched(
      [
        [0.68, 0.68],
        [0.6, 0.76],
      ],
      [
        [0.93, 0.67],
        [0.92, 0.72],
      ],
      6,
      0.008,
      11,
    ),
    ...hatched(
      [
        [0.52, 0.79],
        [0.6, 0.93],
      ],
      [
        [0.92, 0.75],
        [0.9, 0.88],
      ],
      7,
      0.01,
      12,
    ),
  ])
  const left = paintNames([sheet])
  for (const name of paint.keys()) if (!left.has(name)) paint.delete(name)
  return paint
}
