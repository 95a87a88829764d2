import { answersOf, matchRecipe } from '@/data/recipes/match-recipe'
import type { GivenFile } from './given-files'
import { importFiles } from './import-models'
import { useProjectStore } from './project-store'
import { findRecipe, hangRecipeHere } from './recipe-actions'
import { queueRender } from './render-queue'

/** A project that begins with models, and perhaps a recipe, until it is open. */
interface Beginning {
  readonly projectId: string
  readonly recipeId: string | null
  readonly files: readonly GivenFile[]
}
let waiting: Beginning | null = null

/** Once that project is open, its models are read; a recipe is hung, and what it needs is rendered. */
export const beginWith = (beginning: Beginning): void => void (waiting = beginning)

/**
 * Does what waits for a project that was opened.
 * @returns whether the recipe hangs: the sheet is where to look. What models could not be read, the import tells.
 */
export async function beginWaiting(projectId: string): Promise<boolean> {
  if (waiting?.projectId !== projectId) return false
  const { recipeId, files } = waiting
  waiting = null
  const { added } = await importFiles(files)
  const { project } = useProjectStore.getState()
  if (added.length === 0 || recipeId === null || project?.id !== projectId) return false
  const bundle = await findRecipe(recipeId)
  const toRender = await hangRecipeHere(bundle, answersOf(matchRecipe(bundle.recipe, project)))
  queueRender(toRender, 'good')
  return true
}
