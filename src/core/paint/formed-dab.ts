import type { BrushParams } from './brush'
import type { Dab } from './stroke-walker'

/** Which way a form faces at a place of the sheet, in its pixels: unit vectors to the right, up, towards the viewer; null: nothing. */
export type Form = (x: number, y: number) => readonly [nx: number, ny: number, nz: number] | null

/** A press on a form that leans away from the viewer. */
export interface FormedDab extends Dab {
  /** Which way it leans on the sheet, a unit vector, and how much shorter it looks that way, above 0 to 1. */
  readonly lean?: readonly [tx: number, ty: number, ratio: number]
}

/** A form that is seen from the side is painted on as if it were turned no farther. */
const LEAST_RATIO = 0.18
/** Bends of less than this, in radians over the tip, have no direction. */
const LEAST_BEND = 0.02

/**
 * A press as the form beneath it turns and foreshortens it: a round tip on a plane is seen as an ellipse whose short axis lies
 * the way the plane leans, as short as the cosine of its angle to the viewer.
 * @param near the least distance at which bends are looked for, in sheet pixels.
 */
export function formedDab(dab: Dab, form: Form, { lies, turns }: BrushParams, near: number): FormedDab {
  const normal = form(dab.x, dab.y)
  if (!normal) return dab
  const [nx, ny, nz] = normal
  const flat = Math.hypot(nx, ny)
  // Up on the form is up on the sheet, where rows go down.
  const tilt = flat > 1e-3 ? ([nx / flat, -ny / flat] as const) : null
  const lean =
    tilt && lies > 0 ? ([...tilt, 1 - lies * (1 - Math.max(LEAST_RATIO, Math.abs(nz)))] as const) : undefined
  const turn =
    turns === 'tilted'
      ? tilt && Math.atan2(tilt[1], tilt[0]) + Math.PI / 2
      : turns === 'curvature'
        ? (bendAt(form, dab, Math.max(near, 0.5 * dab.radius)) ?? (tilt && Math.atan2(tilt[1], tilt[0])))
        : null
  return { ...dab, ...(turn !== null && { angle: dab.angle + turn }), ...(lean && { lean }) }
}

/**
 * Which way a form bends most at a place, radians clockwise on the sheet: the eigenvector of the larger eigenvalue of how its
 * normal changes across the sheet. Null where it is flat, or bends the same all ways.
 */
function bendAt(form: Form, { x, y }: Dab, step: number): number | null {
  const [left, right] = [form(x - step, y), form(x + step, y)]
  const [above, below] = [form(x, y - step), form(x, y + step)]
  if (!left || !right || !above || !below) return null
  // Of normals as the sheet has them: to the right and down.
  const [a, d] = [right[0] - left[0], -(below[1] - above[1])]
  const b = (below[0] - above[0] - (right[1] - left[1])) / 2
  const apart = Math.hypot((a - d) / 2, b)
  const middle = (a + d) / 2
  const [most, least] = [Math.abs(middle) + apart, Math.abs(Math.abs(middle) - apart)]
  if (most < LEAST_BEND || most - least < 0.15 * most) return null
  const angle = Math.atan2(2 * b, a - d) / 2
  // The axis of the larger eigenvalue; of the larger in size where both are negative.
  return middle >= 0 ? angle : angle + Math.PI / 2
}

/** Rows of what maps sheet to tip, for a press that leans. */
export function leaning(
  [ux, uy, vx, vy]: readonly [number, number, number, number],
  lean: FormedDab['lean'],
): readonly [number, number, number, number] {
  if (!lean) return [ux, uy, vx, vy]
  const [tx, ty, ratio] = lean
  const k = 1 / ratio - 1
  const [u, v] = [ux * tx + uy * ty, vx * tx + vy * ty]
  return [ux + k * u * tx, uy + k * u * ty, vx + k * v * tx, vy + k * v * ty]
}
