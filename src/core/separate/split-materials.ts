import type { SceneModel, ScenePart } from '../scene/scene-geometry'

/** A part of one material alone, and which that is. */
export interface OneMaterialPart extends ScenePart {
  readonly material: { readonly key: string; readonly name: string }
}

interface Materials {
  readonly key: string
  readonly name: string
}

/**
 * Parts by the materials that each has; one that has several becomes as many, under keys of their own.
 * @param usedOf numbers of the materials of each part, each once, in order.
 */
export const partsOfMaterials = (
  parts: readonly ScenePart[],
  materials: readonly Materials[],
  usedOf: readonly (readonly number[])[],
): OneMaterialPart[] =>
  parts.flatMap((part, p) =>
    usedOf[p].map((m): OneMaterialPart => {
      const { key, name } = materials[m]
      return {
        ...part,
        key: usedOf[p].length === 1 ? part.key : `${part.key} ${key}`,
        material: { key, name },
      }
    }),
  )

/** Models in which every part has one material alone: what has several is cut where they meet. Parts without faces stay. */
export function splitByMaterials(models: readonly SceneModel[]): SceneModel[] {
  return models.map((model) => {
    const { mesh, parts, materials } = model
    const { faceParts, faceMaterials } = mesh
    const used = parts.map(() => new Set<number>())
    for (let f = 0; f < faceParts.length; f++) used[faceParts[f]].add(faceMaterials[f])
    // A part without faces shows none, and must still be counted.
    const usedOf = used.map((own) => (own.size === 0 ? [0] : [...own].sort((a, b) => a - b)))
    const starts: number[] = []
    let count = 0
    for (const own of usedOf) {
      starts.push(count)
      count += own.length
    }
    const placeOf = usedOf.map((own) => new Map(own.map((material, i) => [material, i])))
    const split = faceParts.map((part, f) => starts[part] + (placeOf[part].get(faceMaterials[f]) ?? 0))
    return {
      ...model,
      mesh: { ...mesh, faceParts: split },
      parts: partsOfMaterials(parts, materials, usedOf),
    }
  })
}
