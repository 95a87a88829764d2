import type { Font, ShapedGlyph } from './shaper'

/**
 * By how much the first and last letters of a line reach over its edges, so that edges look straight: by the room that lies
 * between a letter's origin and the mean of its outline's side, which is large where it is pointed or round, or all point.
 */

interface EdgeLetter {
  readonly glyphs: readonly ShapedGlyph[]
  readonly font: Font
}

/** Bands of an outline's height, and how much of the mean room a letter reaches over. */
const [BANDS, SHARE] = [16, 0.6]

/** In ems, not below zero. */
export function overhang(letters: readonly EdgeLetter[]): { readonly left: number; readonly right: number } {
  const [first, last] = [letters[0] as EdgeLetter | undefined, letters.at(-1)]
  return {
    left: first ? SHARE * roomBeside(first, 'left') : 0,
    right: last ? SHARE * roomBeside(last, 'right') : 0,
  }
}

function roomBeside({ glyphs, font }: EdgeLetter, side: 'left' | 'right'): number {
  const shaped = side === 'left' ? glyphs[0] : glyphs.at(-1)
  if (!shaped) return 0
  const outline = font.outline(shaped.glyph)
  const { capHeight } = font.metrics
  const edges = new Float64Array(BANDS).fill(NaN)
  // Points of the outline, control points among them: what a letter reaches to is hardly beyond them.
  let [x0, y0] = [NaN, NaN]
  const touch = (x: number, y: number): void => {
    const steps = Number.isNaN(x0) ? 1 : 8
    for (let k = 1; k <= steps; k++) {
      const [px, py] = steps === 1 ? [x, y] : [x0 + ((x - x0) * k) / steps, y0 + ((y - y0) * k) / steps]
      const band = Math.floor((py / capHeight) * BANDS)
      if (band < 0 || band >= BANDS) continue
      const room = side === 'left' ? px : shaped.advanceX - px
      if (!(edges[band] <= room)) edges[band] = room
    }
    ;[x0, y0] = [x, y]
  }
  for (let i = 0; i < outline.length;) {
    const numbers = [2, 2, 4, 6, 0][outline[i]]
    if (outline[i] === 0) [x0, y0] = [NaN, NaN]
    for (let k = 1; k < numbers; k += 2) touch(outline[i + k], outline[i + k + 1])
    i += 1 + numbers
  }
  // Where a band is empty there is room for half a letter, as beside a full stop.
  const most = shaped.advanceX / 2
  const sum = edges.reduce(
    (all, room) => all + (Number.isNaN(room) ? most : Math.min(most, Math.max(0, room))),
    0,
  )
  return Math.max(0, sum / BANDS)
}
