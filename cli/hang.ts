import { availableParallelism } from 'node:os'
import { produce } from 'immer'
import { UnreadableFileError } from '@/core/errors'
import { extension } from '@/core/formats/file-bundle'
import { writePng } from '@/core/formats/png'
import { subjectPoints } from '@/core/scene/scene-geometry'
import { activeSheet, activeShot } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { writeProjectArchive, type NamedFile } from '@/data/project-archive'
import { paintOf } from '@/data/stored-paint'
import { toSceneModels } from '@/data/project-scene'
import { filesOf, type Project } from '@/data/project-schema'
import { hangRecipe, putUp } from '@/data/recipes/hang-recipe'
import { answersOf, isSure, matchRecipe, type RecipeMatch } from '@/data/recipes/match-recipe'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import { readRecipeFile, type RecipeBundle } from '@/data/recipes/recipe-file'
import decompressWoff2 from 'woff2-encoder/decompress'
import { decodeFont } from '@/engine/decode-font'
import { decodePicture } from '@/engine/decode-picture'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import {
  cameraFrom,
  cameraOptions,
  hasCamera,
  parseOptions,
  parseSize,
  qualityNamed,
  wholeNumber,
} from './arguments'
import { fileSourceOf, loadAsProject } from './load-input'
import { shippedFont } from './project-fonts'
import { renderPasses, sheetPicture, storeOf, type Results } from './render-project'
import { UsageError } from './usage-error'
import { geometryOf, withRoles } from './view'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE =
  'relief hang MODEL…|PROJECT --recipe NAME|FILE.zip --size WxH --out FILE.png|.zip [--answer "name=part,…"]'

export const hangOptions = {
  ...cameraOptions,
  recipe: { type: 'string' },
  size: { type: 'string' },
  out: { type: 'string' },
  answer: { type: 'string', multiple: true },
  quality: { type: 'string' },
  only: { type: 'string' },
  unseen: { type: 'string' },
  ground: { type: 'string' },
  threads: { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

const note = (text: string): void => void process.stderr.write(`relief hang: ${text}\n`)

/** `relief hang`: a recipe on a model or a project, as a picture, or as a project with everything in it. */
export async function hang(argv: readonly string[]): Promise<void> {
  const { values, positionals: inputs } = parseOptions(argv, hangOptions)
  if (inputs.length === 0 || !values.recipe || !values.out) throw new UsageError(USAGE)
  const { out } = values
  if (!['png', 'zip'].includes(extension(out)))
    throw new UsageError(`--out takes a .png picture or a .zip project (got "${out}")`)
  const quality = qualityNamed(values.quality ?? 'final')
  await refuseExisting(out, values.overwrite ?? false)
  const threads =
    values.threads === undefined ? availableParallelism() : wholeNumber(values.threads, 'threads', 1, 256)

  // 1. The project, the shot and the recipe.
  const { recipe, pictures } = await loadRecipe(values.recipe)
  const loaded = await loadAsProject(inputs)
  const size = values.size ? parseSize(values.size) : loaded.archive && activeShot(loaded.project).frame
  if (!size) throw new UsageError('--size WxH is missing')
  const framed = produce(loaded.project, (draft) => {
    draft.models = withRoles(draft.models, values)
    const shot = activeShot(draft)
    shot.frame = size
    if (loaded.archive && !hasCamera(values)) return
    const geometry = geometryOf(toSceneModels(draft as Project, loaded.sourceOf), inputs[0])
    const subject = { bounds: geometry.subjectBounds, points: subjectPoints(geometry) }
    shot.camera = structuredClone(cameraFrom(values, subject, size)) as typeof shot.camera
  })

  // 2. What the recipe names, as it is here.
  const matches = matchRecipe(recipe, framed)
  const answers = answersOf(matches)
  for (const text of values.answer ?? []) answers.set(...parseAnswer(text, matches, framed))
  for (const match of matches.filter((own) => !isSure(own) && own.usedBy.length > 0)) {
    const keys = answers.get(match.id) ?? []
    note(
      `${match.kind} ${match.name}: ${keys.length > 0 ? `taken to be ${namesOf(keys, framed)}` : 'left out, nothing here is like it'}`,
    )
  }
  const hung = hangRecipe(recipe, framed, answers, newId)
  const project = structuredClone(framed)
  putUp(project, hung, new Map(hung.pictures.map(({ own, id }) => [own, id])))

  // 3. Render, and write.
  const results: Results = new Map()
  await withFolders([out], async () => {
    const brought = new Map(
      hung.pictures.map(({ own, id, name }) => [id, { name, bytes: bytesOf(pictures, own) }]),
    )
    const known = new Map<string, NamedFile>([...loaded.files, ...brought])
    const file = async (id: string): Promise<NamedFile> => {
      const own = known.get(id) ?? (await loaded.archive?.file(id))
      if (!own) throw new UnreadableFileError(id, 'is not among the files of the project')
      return own
    }
    const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
    try {
      const wanted = project.passes.filter(({ shotId }) => shotId === project.shotId).map(({ id }) => id)
      const { sourceOf } = loaded
      await renderPasses({ project, sourceOf, archive: { file } }, wanted, quality, pool, results, (id) => id)
    } finally {
      pool.close()
    }
    if (extension(out) === 'zip') {
      const files = new Map(known)
      for (const { fileId } of filesOf(project))
        if (!files.has(fileId) && loaded.archive) files.set(fileId, await loaded.archive.file(fileId))
      const paint = new Map<string, Uint8Array<ArrayBuffer>>()
      for (const [name, form] of paintOf([project])) {
        const tile = await loaded.archive?.paint(name, form)
        if (tile) paint.set(name, tile)
      }
      await writeWhole(out, await writeProjectArchive({ project, files, results, paint }))
      return
    }
    const sheet = activeSheet(project)
    const store = storeOf(project, sheet, results)
    for (const { id, licence } of hung.pictures) {
      const { name, bytes } = brought.get(id) ?? { name: id, bytes: new Uint8Array() }
      if (licence === undefined)
        store.pictures.set(id, { picture: await decodePicture(bytes, name), revision: 1 })
      else store.fonts.set(id, [await decodeFont(bytes, name, decompressWoff2)])
    }
    for (const { content } of Object.values(sheet.nodes))
      if (content.kind === 'type' && !store.fonts.has(content.fontId)) {
        const shipped = await shippedFont(content.fontId)
        if (shipped) store.fonts.set(content.fontId, shipped)
      }
    await writeWhole(out, writePng(sheet.width, sheet.height, sheetPicture(sheet, store)))
  })
}

function bytesOf(pictures: RecipeBundle['pictures'], own: string): Uint8Array {
  const bytes = pictures.get(own)
  if (!bytes) throw new UnreadableFileError(own, 'the recipe’s picture is missing')
  return bytes
}

async function loadRecipe(given: string): Promise<Pick<RecipeBundle, 'recipe' | 'pictures'>> {
  if (extension(given) === 'zip') return readRecipeFile(await fileSourceOf(given), given)
  const wanted = given.toLowerCase()
  const found = READY_RECIPES.find(({ id, name }) => id === wanted || name.toLowerCase() === wanted)
  if (!found)
    throw new UsageError(
      `--recipe takes a recipe file or one of ${READY_RECIPES.map(({ id }) => id).join(', ')} (got "${given}")`,
    )
  return { recipe: found, pictures: new Map() }
}

interface Named {
  readonly key: string
  readonly name: string
}

/** `Lantern glass=Lamp,Bulb`; nothing behind the sign leaves it out. @throws {UsageError} naming what is not there. */
function parseAnswer(
  text: string,
  matches: readonly RecipeMatch[],
  project: Project,
): [string, readonly string[]] {
  const at = text.indexOf('=')
  const [name, rest] = [text.slice(0, at).trim(), text.slice(at + 1)]
  const match = matches.find((own) => own.name === name)
  if (at < 0 || !match) {
    const known = matches.map((own) => own.name).join(', ') || 'nothing'
    throw new UsageError(`--answer takes NAME=NAME,… for what the recipe names: ${known} (got "${text}")`)
  }
  const list = rest
    .split(',')
    .map((own) => own.trim())
    .filter(Boolean)
  const keys = list.flatMap((wanted) => {
    const found =
      match.kind === 'group'
        ? project.groups.filter((group) => group.name === wanted).map(() => wanted)
        : project.models
            .flatMap((model): readonly Named[] => (match.kind === 'part' ? model.parts : model.materials))
            .filter((own) => own.name === wanted)
            .map(({ key }) => key)
    if (found.length === 0) throw new UsageError(`--answer: there is no ${match.kind} "${wanted}"`)
    return found
  })
  return [match.id, [...new Set(keys)]]
}

function namesOf(keys: readonly string[], { models }: Project): string {
  const named = new Map(
    models
      .flatMap((model) => [...model.parts, ...model.materials])
      .map(({ key, name }) => [key, name] as const),
  )
  return keys.map((key) => named.get(key) ?? key).join(', ')
}
