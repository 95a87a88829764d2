'use client'

import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { ProjectSheet } from '@/data/project-schema'
import { CornerHandles } from '../sheet/corner-handles'
import { FillHandles } from '../sheet/fill-handles'
import { changeContent } from '../sheet/layer-actions'
import { PictureHandles } from '../sheet/picture-handles'
import { BlockHandles } from './block-handles'
import { PlaneHandles } from './plane-handles'
import type { Guide } from './snap-block'
import { WayHandles } from './way-handles'

interface LayerHandlesProps {
  readonly layer: SheetNode
  readonly page: ProjectSheet
  readonly onGuides: (guides: readonly Guide[]) => void
  readonly onEdit: () => void
  readonly onPress: (x01: number, y01: number, goesOn: boolean) => void
}

/** What the layer at work is moved by on its page, however it lies. */
export function LayerHandles({ layer, page, onGuides, onEdit, onPress }: LayerHandlesProps) {
  const { id, name, content } = layer
  if (content.kind === 'fill') return <FillHandles layerId={id} content={content} sheet={page} />
  if (content.kind === 'picture') return <PictureHandles layerId={id} content={content} sheet={page} />
  if (content.kind === 'type' && content.plane)
    return <PlaneHandles layerId={id} name={name} content={content} page={page} />
  if (content.kind === 'type' && content.corners)
    return (
      <CornerHandles
        label={`Corners of ${name}`}
        corners={content.corners}
        sheet={page}
        onCorner={(i, to) =>
          changeContent(
            id,
            'type',
            'move a corner',
            (own) => void (own.corners && (own.corners[i] = to)),
            `corner ${i}`,
          )
        }
      />
    )
  if (content.kind === 'type' && content.way)
    return <WayHandles layerId={id} way={content.way} sheet={page} />
  return (
    <BlockHandles key={id} layer={layer} page={page} onGuides={onGuides} onEdit={onEdit} onPress={onPress} />
  )
}
