import type { Draft } from 'immer'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { loadFile, storageProblem } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { hangRecipe, putUp } from '@/data/recipes/hang-recipe'
import { makeRecipe } from '@/data/recipes/make-recipe'
import type { Answers } from '@/data/recipes/match-recipe'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import type { RecipeBundle } from '@/data/recipes/recipe-file'
import { loadRecipe, storeRecipe } from '@/data/recipes/stored-recipes'
import { storeFile } from '@/data/storage-service'
import { changeProject, useProjectStore } from './project-store'
import { askSheet } from './sheet-sync'
import { setBench } from './view-store'

/** What a recipe's picture measures. */
const SEEN = { width: 640, height: 400 }

/** One of our own, or one of this browser's. @throws {UnreadableFileError} */
export const findRecipe = async (id: string): Promise<RecipeBundle> => {
  const ready = READY_RECIPES.find((recipe) => recipe.id === id)
  return ready ? { recipe: ready, seen: null, pictures: new Map() } : loadRecipe(id)
}

/** Saves the sheet at work as a recipe, with a picture of how it looks. @returns its id. @throws {Error} in words. */
export async function saveAsRecipe(name: string, note: string): Promise<string | null> {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const { recipe, fileIds } = makeRecipe(project, activeSheet(project), { id: newId(), name, note })
  const pictures = new Map<string, Uint8Array>()
  for (const [own, fileId] of fileIds) pictures.set(own, await loadFile(project.id, fileId))
  const seen = await askSheet(project, (worker) => worker.snapshot(null, SEEN))
  try {
    return await storeRecipe({ recipe, seen, pictures })
  } catch (error) {
    throw new Error(storageProblem(error), { cause: error })
  }
}

/**
 * Hangs a recipe as a sheet of the shot at work. One undo step.
 * @returns passes of it that are to be rendered. @throws {Error} where a picture cannot be stored.
 */
export async function hangRecipeHere(
  { recipe, pictures }: Pick<RecipeBundle, 'recipe' | 'pictures'>,
  answers: Answers,
): Promise<readonly string[]> {
  const { project } = useProjectStore.getState()
  if (!project) return []
  const hung = hangRecipe(recipe, project, answers, newId)
  const fileIds = new Map<string, string>()
  for (const { own, name } of hung.pictures) {
    const fileId = newId()
    await storeFile(project.id, fileId, name, pictures.get(own) ?? new Uint8Array())
    fileIds.set(own, fileId)
  }
  if (useProjectStore.getState().project?.id !== project.id) return []
  changeProject(`hang ${recipe.name}`, (draft: Draft<Project>) => putUp(draft as Project, hung, fileIds))
  setBench({ layerId: null, peel: Infinity })
  return hung.toRender
}
