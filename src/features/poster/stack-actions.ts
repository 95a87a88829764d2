import { layersOf } from '@/core/sheet/sheet-tree'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { ProjectSheet } from '@/data/project-schema'
import type { Action } from '@/state/actions'
import { addFillLayer, addTexture, addWash, deleteLayer, duplicateLayer } from '../sheet/layer-actions'

/** What can be done to the layers of a page and of a mock-up alike. @param choose makes a layer the one at work. */
export function stackActions(
  sheet: ProjectSheet,
  layer: SheetNode | undefined,
  choose: (id: string | null) => void,
): Action[] {
  const step = (by: 1 | -1) => {
    const layers = layersOf(sheet)
    const at = layers.findIndex(({ id }) => id === layer?.id)
    choose(layers[(at + by + layers.length) % Math.max(1, layers.length)]?.id ?? null)
  }
  return [
    { id: 'fill', label: 'Add a fill', run: addFillLayer },
    { id: 'texture', label: 'Add a texture', run: addTexture },
    { id: 'wash', label: 'Add a wash', run: () => addWash() },
    { id: 'next', label: 'Next layer', keys: 'ArrowRight', run: () => step(1) },
    { id: 'previous', label: 'Previous layer', keys: 'ArrowLeft', run: () => step(-1) },
    ...(layer
      ? [
          { id: 'delete', label: `Delete ${layer.name}`, keys: 'Delete', run: () => deleteLayer(layer.id) },
          {
            id: 'duplicate',
            label: `Duplicate ${layer.name}`,
            keys: '$mod+d',
            run: () => duplicateLayer(layer.id),
          },
        ]
      : []),
  ]
}
