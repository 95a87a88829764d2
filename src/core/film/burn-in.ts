import { contentOf } from '../sheet/new-layer'
import { setType, type TypeBlock } from '../sheet/contents/type'
import type { Frame } from '../scene/camera'
import { pathCoverage } from '../type/path-coverage'
import type { FontFile } from '../type/shaper'
import { typeContours, type Contours } from '../type/type-outlines'

/** How high its letters are, as a share of the frame; how far it stands from the corner, and reaches round them, in letters. */
const [HIGH, OFF, ROUND] = [1 / 26, 0.5, 0.4]
const LEAST_PX = 9
/** How far letters hang below their line. */
const HANGS = 0.22
/** Of what lies under the letters: how much it covers. */
const UNDER = 0.62
/** Between figures: of what number of frames the plate is as wide. */
const KEPT = 64

/** Words in the lower left corner of frames, as they are looked through: which it is, and at what angle. */
export class BurnIn {
  private readonly made = new Map<string, Plate>()
  private readonly sizePx: number

  /** @param files of one font. */
  constructor(
    private readonly size: Frame,
    private readonly files: readonly FontFile[],
  ) {
    this.sizePx = Math.max(LEAST_PX, Math.round(HIGH * size.height))
  }

  /**
   * Lays words over rows of a frame, in place.
   * @param rgba straight 8 bits, `width` · 4 bytes a row. @param top the first of the rows.
   */
  over(rgba: Uint8Array | Uint8ClampedArray, words: string, top = 0): void {
    const { width } = this.size
    const plate = this.plateOf(words)
    const rows = rgba.length / (4 * width)
    const [from, to] = [Math.max(top, plate.y), Math.min(top + rows, plate.y + plate.height)]
    for (let y = from; y < to; y++)
      for (let x = plate.x; x < Math.min(width, plate.x + plate.width); x++) {
        const at = 4 * ((y - top) * width + x)
        const ink = plate.letters[(y - plate.y) * plate.width + x - plate.x]
        const share = ink + UNDER * (1 - ink)
        const under = rgba[at + 3] / 255
        const alpha = share + under * (1 - share)
        for (let c = 0; c < 3; c++)
          rgba[at + c] = Math.round((255 * ink + rgba[at + c] * under * (1 - share)) / alpha)
        rgba[at + 3] = Math.round(255 * alpha)
      }
  }

  private plateOf(words: string): Plate {
    const known = this.made.get(words)
    if (known) return known
    const { size, sizePx, files } = this
    const off = Math.round(OFF * sizePx)
    const round = Math.round(ROUND * sizePx)
    const block = contentOf('type', {
      text: words,
      fontId: 'burn-in',
      figures: 'tabular',
      size: sizePx,
      leading: 1,
      colour: '#ffffff',
      box: [(off + round) / size.width, 0, 8, Math.max(0.01, (2 * sizePx) / size.height)],
    }) as TypeBlock
    const set = setType(block, size, { font: () => files })
    const contours = set ? typeContours(set.layout, set.frame, block, 1) : NOTHING
    const wide = Math.ceil(set?.layout.lines.at(0)?.length ?? 0) + 2 * round
    const high = Math.round(1.1 * sizePx) + 2 * round
    const y = size.height - off - high
    // Its line stands so far above the edge of the plate that what hangs below it has room.
    const base = set?.layout.lines.at(0)?.across ?? 0
    const down = Math.round(size.height - off - round - HANGS * sizePx) - Math.round(base)
    const points = contours.points.map((v, i) => (i % 2 === 1 ? v + down : v))
    const window = { x: off, y, width: Math.max(1, wide), height: high }
    const letters = pathCoverage({ ...contours, points }, window) ?? new Float32Array(window.width * high)
    if (this.made.size >= KEPT) this.made.clear()
    const plate: Plate = { ...window, letters }
    this.made.set(words, plate)
    return plate
  }
}

interface Plate extends Frame {
  readonly x: number
  readonly y: number
  /** How much of each of its pixels letters cover. */
  readonly letters: Float32Array
}

const NOTHING: Contours = {
  points: new Float64Array(0),
  starts: new Uint32Array(1),
  glyphs: new Uint32Array(0),
}
