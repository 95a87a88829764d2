import type { SceneTraits } from '@/core/passes/idle-params'
import { roleNow } from '@/core/scene/part-role'
import type { Project } from '@/data/project-schema'

const known = new WeakMap<Project['models'], SceneTraits>()

/** What of the project's scene decides which parameters have anything to act on; parts that are off count for nothing. */
export function sceneTraits({ models }: Pick<Project, 'models'>): SceneTraits {
  const before = known.get(models)
  if (before) return before
  const worn = models.flatMap((model) => {
    const numbers = new Set(
      model.parts.filter((part) => roleNow(part) !== 'off').flatMap((part) => part.materials),
    )
    return model.materials.filter((_, i) => numbers.has(i))
  })
  const traits: SceneTraits = {
    hasGround: models.some((model) => model.parts.some((part) => roleNow(part) === 'ground')),
    hasTextures: worn.some(({ texture }) => texture !== null),
    // A picture may let light through where its alpha does.
    hasGlass: worn.some(({ opacity, texture }) => opacity < 1 || texture !== null),
    hasGlow: worn.some(({ emission }) => emission.some((v) => v > 0)),
  }
  known.set(models, traits)
  return traits
}
