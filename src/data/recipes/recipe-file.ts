import { Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js'
import { UnreadableFileError } from '@/core/errors'
import { parseParams } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { ZipFile, type ByteSource } from '@/core/formats/zip-file'
import { RECIPE_VERSION, recipeSchema, validateRecipe, type Recipe } from './recipe-schema'

/**
 * A recipe as one file, a zip of
 * - `recipe.json`: the recipe (docs/recipe-file.md tells every field),
 * - `seen.png`: how it looked where it was made, if that is known,
 * - `pictures/{name}/{file name}`: the pictures it brings along.
 */
export interface RecipeBundle {
  readonly recipe: Recipe
  readonly seen: Uint8Array<ArrayBuffer> | null
  /** By the recipe's own names. */
  readonly pictures: ReadonlyMap<string, Uint8Array>
}

const LIMITS = { mostEntries: 1000, mostBytes: 2 ** 30 }

const picturePath = (id: string, name: string): string =>
  `pictures/${id.replace(':', '-')}/${name.replace(/[\\/]/g, '_')}`

export async function writeRecipeFile({
  recipe,
  seen,
  pictures,
}: RecipeBundle): Promise<Uint8Array<ArrayBuffer>> {
  const writer = new Uint8ArrayWriter()
  await writer.init?.()
  const zip = new ZipWriter(writer.writable)
  const add = async (name: string, bytes: Uint8Array, level: number): Promise<void> => {
    await zip.add(name, new Uint8ArrayReader(bytes), { level })
  }
  await add('recipe.json', new TextEncoder().encode(JSON.stringify(recipe, null, 1) + '\n'), 6)
  if (seen) await add('seen.png', seen, 0)
  for (const { id, name } of recipe.pictures) {
    const bytes = pictures.get(id)
    if (!bytes) throw new UnreadableFileError(name, 'the recipe’s picture is missing')
    await add(picturePath(id, name), bytes, 0)
  }
  await zip.close()
  return writer.getData()
}

/** Reads and checks a recipe file. @throws {UnreadableFileError} naming the entry or field that is wrong. */
export async function readRecipeFile(source: ByteSource, fileName: string): Promise<RecipeBundle> {
  const zip = await ZipFile.open(source, fileName, LIMITS)
  if (!zip.has('recipe.json'))
    throw new UnreadableFileError(fileName, 'holds no recipe.json: it is not a recipe')
  let loose: unknown
  const json = await zip.read('recipe.json')
  try {
    loose = JSON.parse(new TextDecoder().decode(json))
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'its recipe.json cannot be parsed', { cause })
  }
  const recipe = readRecipe(loose, fileName)
  const pictures = new Map<string, Uint8Array>()
  for (const { id, name } of recipe.pictures) {
    const path = picturePath(id, name)
    if (!zip.has(path)) throw new UnreadableFileError(fileName, `${path} is missing`)
    pictures.set(id, await zip.read(path))
  }
  const seen = zip.has('seen.png') ? new Uint8Array(await zip.read('seen.png')) : null
  return { recipe, seen, pictures }
}

/** Checks a recipe's document. @throws {UnreadableFileError} naming the field that is wrong. */
export function readRecipe(loose: unknown, fileName: string): Recipe {
  const { version } = (loose ?? {}) as { version?: unknown }
  if (typeof version === 'number' && version > RECIPE_VERSION)
    throw new UnreadableFileError(fileName, 'the recipe was made by a newer version of the application')
  const parsed = recipeSchema.safeParse(loose)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    throw new UnreadableFileError(fileName, `recipe.json: ${issue.path.join('.')}: ${issue.message}`)
  }
  const [problem] = validateRecipe(parsed.data)
  if (problem) throw new UnreadableFileError(fileName, `recipe.json: ${problem}`)
  const passes = parsed.data.passes.map((pass) => {
    try {
      return { ...pass, params: parseParams(passKind(pass.kind).renderSchema, pass.params, pass.kind) }
    } catch (cause) {
      const why = cause instanceof Error ? cause.message : String(cause)
      throw new UnreadableFileError(fileName, `recipe.json: pass ${pass.name}: ${why}`, { cause })
    }
  })
  return { ...parsed.data, passes }
}
