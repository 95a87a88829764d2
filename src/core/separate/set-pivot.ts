import { cameraBasis, projectPoint, type Camera, type Frame } from '../scene/camera'

/** Hundredths of a pixel are exact enough. */
const STEPS = 100

/**
 * What a set turns about: the middle of the box around its parts, as the camera sees it.
 * @param boxes see `RayTree.partBoxes`.
 * @param parts by their numbers in the scene.
 * @returns in pixels of the frame, from its top left, which it may lie outside of; null where nothing is, or behind the camera.
 */
export function setPivot(
  boxes: Float32Array,
  parts: readonly number[],
  camera: Camera,
  frame: Frame,
): { readonly x: number; readonly y: number } | null {
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (const part of parts)
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], boxes[6 * part + axis] ?? Infinity)
      high[axis] = Math.max(high[axis], boxes[6 * part + 3 + axis] ?? -Infinity)
    }
  if (!(low[0] <= high[0])) return null
  const basis = cameraBasis(camera, frame)
  const at = new Float64Array(3)
  const middle = (axis: number) => (low[axis] + high[axis]) / 2
  projectPoint(basis, frame, middle(0), middle(1), middle(2), at)
  if (!basis.parallel && at[2] <= 0) return null
  const rounded = (value: number) => Math.round(STEPS * value) / STEPS
  return { x: rounded(at[0]), y: rounded(at[1]) }
}
