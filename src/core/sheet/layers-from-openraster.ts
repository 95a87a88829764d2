import type { OpenRasterFile, ReadLayer, ReadNode } from '../formats/read-openraster'
import { groupOf, newLayer, wholePicture } from './new-layer'
import { laidAt } from './picture-box'
import type { RenderSize } from './sheet-resources'
import type { SheetNode } from './sheet-schema'

/** What was read of an OpenRaster file, as layers of a sheet. */
export interface OpenRasterLayers {
  /** Ids of those that lie in no group, back first. */
  readonly roots: string[]
  readonly nodes: Record<string, SheetNode>
  /** What they show: pictures to be stored. */
  readonly pictures: readonly { readonly id: string; readonly name: string; readonly png: Uint8Array }[]
}

/**
 * Layers and groups for what an OpenRaster file holds: each picture lies where it lay, the whole in the middle of the sheet, as
 * large as fits.
 * @param newId gives ids of layers and pictures.
 */
export function layersFromOpenRaster(
  file: Pick<OpenRasterFile, 'width' | 'height' | 'nodes'>,
  sheet: RenderSize,
  newId: () => string,
): OpenRasterLayers {
  const nodes: Record<string, SheetNode> = {}
  const pictures: { id: string; name: string; png: Uint8Array }[] = []
  const scale = Math.min(sheet.width / file.width, sheet.height / file.height)
  const [left, top] = [(sheet.width - scale * file.width) / 2, (sheet.height - scale * file.height) / 2]
  const placed = ({ x, y, width, height }: ReadLayer) =>
    laidAt({ x: left + scale * x, y: top + scale * y, width: scale * width, height: scale * height }, sheet)
  const add = (node: ReadNode): string => {
    const { name, mode, opacity, visible } = node
    const id = newId()
    const common = { id, name, mode, opacity, visible }
    if ('children' in node) {
      const children = node.children.map(add)
      nodes[id] = newLayer({ ...common, content: groupOf(children, node.isolated) })
    } else {
      const picture = { id: newId(), name: `${name}.png`, png: node.png }
      pictures.push(picture)
      nodes[id] = newLayer({ ...common, content: { ...wholePicture(picture.id), ...placed(node) } })
    }
    return id
  }
  return { roots: file.nodes.map(add), nodes, pictures }
}
