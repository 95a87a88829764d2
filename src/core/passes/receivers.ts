import { choiceParam } from '../params'
import type { SceneGeometry } from '../scene/scene-geometry'

/** Which parts a pass of what falls on surfaces is taken from. */
export const onParam = () =>
  choiceParam({
    label: 'Taken from',
    options: { ground: 'Ground', all: 'Everything shown' },
    default: 'ground',
  })

/** Those parts, one byte each; null is all. */
export const receivers = (scene: Pick<SceneGeometry, 'parts'>, on: string): Uint8Array | null =>
  on === 'all' ? null : Uint8Array.from(scene.parts, (part) => (part.role === 'ground' ? 1 : 0))
