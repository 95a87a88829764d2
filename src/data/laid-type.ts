import { laidCorners, sightOn, type ScenePlane } from '@/core/scene/scene-plane'
import { passPlacement, toPicturePoint } from '@/core/sheet/pass-placement'
import type { TypeBlock } from '@/core/sheet/contents/type'
import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import type { Shot } from './project-schema'

/** Type that lies on surfaces of the shot: where its corners are seen on a page. */

type LyingSheet = Pick<Sheet, 'width' | 'height' | 'fit' | 'lies'>
type Corners = NonNullable<TypeBlock['corners']>
type SeenFrom = Pick<Shot, 'camera' | 'frame'>

/** The corners of a block that lies on a plane, in shares of the sheet; null where it reaches behind the eye. */
export function planeCorners(
  { plane, box }: Pick<TypeBlock, 'plane' | 'box'>,
  sheet: LyingSheet,
  { camera, frame }: SeenFrom,
): Corners | null {
  if (!plane) return null
  const high = (box[3] * sheet.height) / (box[2] * sheet.width)
  const seen = laidCorners(plane, plane.width, plane.width * high, plane.turnDeg, camera, frame)
  if (!seen) return null
  const placed = passPlacement(frame, sheet, sheet)
  const limit = (v: number) => Math.min(9, Math.max(-8, v))
  const onSheet = ([u, v]: readonly [number, number]): [number, number] => [
    limit((placed.x + u * placed.width) / sheet.width),
    limit((placed.y + v * placed.height) / sheet.height),
  ]
  const [a, b, c, d] = seen.map(onSheet)
  return [a, b, c, d]
}

/** Where a place of the sheet is on a plane; null where it is not seen there. */
export const onPlane = (
  plane: ScenePlane,
  [x, y]: readonly [number, number],
  sheet: LyingSheet,
  { camera, frame }: SeenFrom,
) => sightOn(plane, camera, frame, toPicturePoint(x, y, frame, sheet, sheet))

/** The layers of a sheet, those that lie on a surface with the corners that they are seen between. */
export function laidNodes(
  sheet: LyingSheet & Pick<Sheet, 'nodes'>,
  shot: SeenFrom,
): Record<string, SheetNode> {
  const laid = Object.values(sheet.nodes).filter(({ content }) => content.kind === 'type' && content.plane)
  if (laid.length === 0) return sheet.nodes
  const nodes = { ...sheet.nodes }
  for (const node of laid) {
    if (node.content.kind !== 'type') continue
    const corners = planeCorners(node.content, sheet, shot)
    // Behind the eye nothing of it is seen.
    nodes[node.id] = corners
      ? { ...node, content: { ...node.content, corners } }
      : { ...node, visible: false }
  }
  return nodes
}
