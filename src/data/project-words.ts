import type { Words } from '@/core/sheet/words-in-type'
import type { Project, ProjectModel, ProjectPart } from './project-schema'

/** Words that type on any sheet may hold in braces, and what they stand for. */
export const projectWordLabels = {
  project: 'the name of the project',
  parts: 'how many parts are shown',
  polygons: 'how many polygons they have',
  triangles: 'those of three sides',
  quads: 'those of four sides',
  larger: 'those of more sides',
  materials: 'how many materials the models have',
  textures: 'how many textures the models have',
} as const

/** What is shown of a model. */
const shownParts = ({ parts }: ProjectModel): ProjectPart[] =>
  parts.filter(({ hidden, role, polygons }) => !hidden && role !== 'off' && polygons > 0)

const SIDES = { triangles: 3, quads: 4, larger: 'more' } as const

const known = new WeakMap<readonly ProjectModel[], Words>()
const inWords = (count: number): string => count.toLocaleString('en')

/** What these words stand for. Where sides were not counted part by part they are those of the whole model. */
export function projectWords({ name, models }: Pick<Project, 'name' | 'models'>): Words {
  let words = known.get(models)
  if (!words) {
    const shown = models.map((model) => ({ model, parts: shownParts(model) }))
    const seen = shown.filter(({ parts }) => parts.length > 0)
    const sum = (of: (one: (typeof seen)[number]) => number) =>
      inWords(seen.reduce((all, one) => all + of(one), 0))
    const bySides = (sides: 3 | 4 | 'more') =>
      sum(({ model, parts }) =>
        parts.every((part) => part.sides)
          ? parts.reduce((all, part) => all + (part.sides?.[sides] ?? 0), 0)
          : model.polygons[sides],
      )
    const textures = seen.flatMap(({ model }) => model.materials.flatMap(({ texture }) => texture ?? []))
    words = {
      parts: sum(({ parts }) => parts.length),
      polygons: sum(({ parts }) => parts.reduce((all, { polygons }) => all + polygons, 0)),
      triangles: bySides(SIDES.triangles),
      quads: bySides(SIDES.quads),
      larger: bySides(SIDES.larger),
      materials: sum(({ model }) => model.materials.length),
      textures: inWords(new Set(textures).size),
    }
    known.set(models, words)
  }
  return { ...words, project: name }
}
