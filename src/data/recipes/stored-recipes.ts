import { UnreadableFileError } from '@/core/errors'
import { bytesSource } from '@/core/formats/zip-file'
import { database } from '../database'
import { newId } from '../new-project'
import { KEPT_DELETED_MS } from '../project-repository'
import { readRecipeFile, writeRecipeFile, type RecipeBundle } from './recipe-file'

/** Recipes of this browser's own: saved from a sheet, or brought in as files. */

/** Stores a recipe beside those that are there. @returns its id. @throws where there is no room. */
export async function storeRecipe(bundle: RecipeBundle): Promise<string> {
  const id = newId()
  const recipe = { ...bundle.recipe, id }
  const file = await writeRecipeFile({ ...bundle, recipe })
  const { name, note } = recipe
  await database.recipes.put({
    id,
    name,
    note,
    savedAt: Date.now(),
    deletedAt: null,
    file,
    seen: bundle.seen,
  })
  return id
}

/** Stores a recipe from a file. @returns its id. @throws {UnreadableFileError} naming what in it is wrong. */
export async function storeRecipeFile(name: string, bytes: Uint8Array): Promise<string> {
  return storeRecipe(await readRecipeFile(bytesSource(bytes), name))
}

/** @throws {UnreadableFileError} where it is gone, or damaged. */
export async function loadRecipe(id: string): Promise<RecipeBundle> {
  const row = await database.recipes.get(id)
  if (!row) throw new UnreadableFileError(id, 'there is no such recipe in this browser')
  return readRecipeFile(bytesSource(row.file), row.name)
}

export const setRecipeDeleted = async (id: string, isDeleted: boolean): Promise<void> => {
  await database.recipes.update(id, { deletedAt: isDeleted ? Date.now() : null })
}

/** Clears recipes deleted more than a month ago. */
export async function clearDeletedRecipes(now = Date.now()): Promise<void> {
  const old = await database.recipes
    .filter(({ deletedAt }) => deletedAt !== null && deletedAt < now - KEPT_DELETED_MS)
    .primaryKeys()
  await database.recipes.bulkDelete(old)
}
