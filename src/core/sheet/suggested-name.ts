import { findEffect } from '../effects/registry'
import { textureLabels } from './contents/textures/registry'
import { growthLabels } from './contents/cracks'
import { fillShapeLabels } from './contents/fill'
import type { SheetNode } from './sheet-schema'

/**
 * What a layer would be called by what it holds; null where only who made it knows. A layer that bears this name follows what
 * it holds, until it is given another.
 */
export function suggestedName({ content, effects }: SheetNode): string | null {
  switch (content.kind) {
    case 'fill':
      return content.shape === 'even' ? 'Fill' : `${fillShapeLabels[content.shape]} gradient`
    case 'texture':
      return textureLabels[content.style] ?? null
    case 'cracks':
      return growthLabels[content.growth]
    case 'type': {
      const [line = ''] = content.text.trim().split('\n')
      return line === '' ? 'Type' : line.length > 24 ? `${line.slice(0, 23)}…` : line
    }
    case 'wash': {
      const [first, ...rest] = effects.flatMap((effect) => findEffect(effect.kind)?.label ?? [])
      if (first === undefined) return 'Wash'
      return rest.length === 0 ? `${first} wash` : `${first} wash and ${rest.length} more`
    }
    default:
      return null
  }
}
