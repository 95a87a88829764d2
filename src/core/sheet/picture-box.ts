import type { ContentOf } from './contents/registry'
import type { RenderSize } from './sheet-resources'

/** Where a placed picture lies on its sheet, and how it is moved, scaled and turned there: all in shares of the sheet. */
type Placed = Pick<ContentOf<'picture'>, 'centre' | 'size' | 'turnDeg'>
type Place = readonly [number, number]

const radians = (degrees: number): number => (degrees * Math.PI) / 180
const limited = (value: number, low: number, high: number): number => Math.min(high, Math.max(low, value))
/** What the schema of a picture allows. */
const place = (x: number, y: number): [number, number] => [limited(x, -8, 9), limited(y, -8, 9)]
const size = (x: number, y: number): [number, number] => [limited(x, 0.001, 64), limited(y, 0.001, 64)]

/** A place of the picture, −1…1 from its middle across and down, on the sheet. */
export function onSheet({ centre, size: own, turnDeg }: Placed, at: Place, sheet: RenderSize): Place {
  const [cos, sin] = [Math.cos(radians(turnDeg)), Math.sin(radians(turnDeg))]
  const [x, y] = [(at[0] * own[0] * sheet.width) / 2, (at[1] * own[1] * sheet.height) / 2]
  return [centre[0] + (x * cos - y * sin) / sheet.width, centre[1] + (x * sin + y * cos) / sheet.height]
}

/** Its four corners on the sheet, from the upper left clockwise. */
export function cornersOf(placed: Placed, sheet: RenderSize): NonNullable<ContentOf<'picture'>['corners']> {
  const at = (x: number, y: number) => {
    const [u, v] = onSheet(placed, [x, y], sheet)
    return place(u, v)
  }
  return [at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)]
}

export const movedTo = (placed: Placed, to: Place): Placed => ({ ...placed, centre: place(to[0], to[1]) })

/**
 * Scaled so that one of its corners comes to a place, the corner across staying where it is.
 * @param corner −1 or 1 across and down. @param keepsShape its proportions stay: the corner comes as near as they allow.
 */
export function scaledTo(
  placed: Placed,
  corner: Place,
  to: Place,
  sheet: RenderSize,
  keepsShape = true,
): Placed {
  const fixed = onSheet(placed, [-corner[0], -corner[1]], sheet)
  const [cos, sin] = [Math.cos(radians(placed.turnDeg)), Math.sin(radians(placed.turnDeg))]
  const [dx, dy] = [(to[0] - fixed[0]) * sheet.width, (to[1] - fixed[1]) * sheet.height]
  // Turned back, away from the corner that stays.
  const [u, v] = [(dx * cos + dy * sin) * corner[0], (dy * cos - dx * sin) * corner[1]]
  const [width, height] = [placed.size[0] * sheet.width, placed.size[1] * sheet.height]
  // Along the diagonal: the nearest there is to the place.
  const factor = Math.max(1e-3, (u * width + v * height) / (width * width + height * height))
  const [w, h] = keepsShape ? [width * factor, height * factor] : [Math.max(1, u), Math.max(1, v)]
  const own = size(w / sheet.width, h / sheet.height)
  const half = [(corner[0] * own[0] * sheet.width) / 2, (corner[1] * own[1] * sheet.height) / 2]
  return {
    ...placed,
    size: own,
    centre: place(
      fixed[0] + (half[0] * cos - half[1] * sin) / sheet.width,
      fixed[1] + (half[0] * sin + half[1] * cos) / sheet.height,
    ),
  }
}

/** Turned so that its upper side faces a place. */
export function turnedTo(placed: Placed, to: Place, sheet: RenderSize): Placed {
  const [dx, dy] = [(to[0] - placed.centre[0]) * sheet.width, (to[1] - placed.centre[1]) * sheet.height]
  if (dx === 0 && dy === 0) return placed
  return { ...placed, turnDeg: Math.round(((Math.atan2(dx, -dy) * 180) / Math.PI) * 10) / 10 }
}

/** Upright, its upper left corner at a place and as large as told, in pixels of the sheet. */
export const laidAt = (box: { x: number; y: number } & RenderSize, sheet: RenderSize): Placed => ({
  centre: place((box.x + box.width / 2) / sheet.width, (box.y + box.height / 2) / sheet.height),
  size: size(box.width / sheet.width, box.height / sheet.height),
  turnDeg: 0,
})

/** In the middle of the sheet in its own proportions: whole, or filling it. */
export function laidOut(picture: RenderSize, sheet: RenderSize, fit: 'whole' | 'fill' | 'own size'): Placed {
  const across = sheet.width / picture.width
  const down = sheet.height / picture.height
  const scale = fit === 'own size' ? 1 : fit === 'whole' ? Math.min(across, down) : Math.max(across, down)
  return { centre: [0.5, 0.5], size: size(scale / across, scale / down), turnDeg: 0 }
}
