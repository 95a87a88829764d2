import { cameraBasis, projectPoint, type Camera, type Frame } from './camera'

/** A rectangle of pixels. */
interface PixelWindow {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Pixels around what is projected, for rounding. */
const MARGIN = 2

/**
 * The rectangle of a frame that holds all of some parts, in whole tiles; null where none of them can be seen.
 * @param boxes Float32Array, 6 a part: min x y z, max x y z, see `RayTree.partBoxes`; infinite where a part has no triangles.
 * @param parts by their numbers in the scene.
 * @param side of the tiles, in pixels.
 */
export function partsWindow(
  boxes: Float32Array,
  parts: readonly number[],
  camera: Camera,
  frame: Frame,
  side: number,
): PixelWindow | null {
  const basis = cameraBasis(camera, frame)
  const at = new Float64Array(3)
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  let isAcross = false
  for (const part of parts) {
    const box = boxes.subarray(6 * part, 6 * part + 6)
    if (box.length < 6 || !(box[0] <= box[3])) continue
    let before = 0
    for (let corner = 0; corner < 8; corner++) {
      const pick = (axis: number) => box[axis + ((corner >> axis) & 1) * 3]
      projectPoint(basis, frame, pick(0), pick(1), pick(2), at)
      if (!basis.parallel && at[2] <= 0) continue
      before++
      left = Math.min(left, at[0])
      right = Math.max(right, at[0])
      top = Math.min(top, at[1])
      bottom = Math.max(bottom, at[1])
    }
    // What reaches past the eye may be anywhere in the picture.
    isAcross ||= before > 0 && before < 8
  }
  if (isAcross) return { x: 0, y: 0, ...frame }
  if (right < left) return null
  const from = (low: number) => Math.max(0, Math.floor((low - MARGIN) / side) * side)
  const to = (high: number, most: number) => Math.min(most, Math.ceil((high + MARGIN) / side) * side)
  const [x, y] = [from(left), from(top)]
  const [width, height] = [to(right, frame.width) - x, to(bottom, frame.height) - y]
  return width > 0 && height > 0 ? { x, y, width, height } : null
}
