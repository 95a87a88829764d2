import { resizeSheet } from '@/core/sheet/resize-sheet'
import type { Rig } from '@/core/scene/light-rig'
import { activeSheet, activeShot } from '../active-shot'
import type { Project, ProjectPass, ProjectSheet } from '../project-schema'
import { matchPasses, matchRig, type Answers } from './match-recipe'
import type { Recipe } from './recipe-schema'
import { rewrite, rewriteMembers, rewriteRig } from './rewrite'

/** A picture or a font that a recipe brings along. */
interface BroughtFile {
  readonly own: string
  readonly id: string
  readonly name: string
  /** Of a font. */
  readonly licence?: string
}

/** What a recipe adds to a project. */
export interface HungRecipe {
  readonly sheet: ProjectSheet
  readonly passes: readonly ProjectPass[]
  readonly rigs: readonly Rig[]
  /** Those of the recipe that are to be brought along, and their ids here. */
  readonly pictures: readonly BroughtFile[]
  /** Passes of the sheet that are not rendered yet, whether they were there or not. */
  readonly toRender: readonly string[]
}

/**
 * A recipe as a sheet of a project's shot at work: passes that are set up alike are taken as they are, others are added, and lengths
 * become those of the shot's picture.
 * @param answers what each part, material and group that it names is here; what is nothing is left out.
 */
export function hangRecipe(
  recipe: Recipe,
  project: Project,
  answers: Answers,
  newId: () => string,
): HungRecipe {
  const shot = activeShot(project)
  const here = new Map<string, readonly string[]>(answers)
  const listed = (text: string): readonly string[] => here.get(text) ?? []
  const one = (text: string): string => here.get(text)?.[0] ?? text
  const pictures = recipe.pictures.map(({ id: own, ...file }) => ({ own, id: newId(), ...file }))
  for (const { own, id } of pictures) here.set(own, [id])

  // 1. Lights: a rig that lights alike serves as it is.
  const lightIds = new Map<string, string>()
  const rigs: Rig[] = []
  for (const rig of recipe.rigs) {
    const like = matchRig(rig, project, here)
    const own = like ?? rewriteRig(rig, newId(), listed, one, () => newId())
    if (!like) rigs.push(own)
    here.set(rig.id, [own.id])
    rig.lights.forEach((light, i) => lightIds.set(`${rig.id} ${light.id}`, own.lights[i].id))
  }

  // 2. Passes.
  const toRender: string[] = []
  const passes: ProjectPass[] = []
  for (const { own, passId, isRendered } of matchPasses(recipe, project, here)) {
    const id = passId ?? newId()
    here.set(own.id, [id])
    if (!isRendered) toRender.push(id)
    if (passId !== null) continue
    const rigId = own.rigId === null ? null : one(own.rigId)
    passes.push({
      ...own,
      id,
      shotId: shot.id,
      rigId: rigId === shot.rigId ? null : rigId,
      members: rewriteMembers(own.members, listed, (light) => [
        lightIds.get(`${own.rigId} ${light}`) ?? light,
      ]),
      effort: { ...own.effort },
      params: structuredClone(own.params),
      rendered: null,
    })
  }

  // 3. The stack.
  for (const id of Object.keys(recipe.sheet.nodes)) here.set(id, [newId()])
  const names = new Map(
    [...recipe.parts, ...recipe.materials, ...recipe.groups].map(({ id, name }) => [id, name]),
  )
  // What has no like here stays in its mask under the name that it had, so that the layer can say what it misses.
  const chosen = (text: string): readonly string[] => {
    const keys = listed(text)
    return keys.length > 0 ? keys : [names.get(text) ?? text]
  }
  const stack = rewrite(recipe.sheet, one, { parts: chosen, materials: chosen, groups: chosen })
  const sheet: ProjectSheet = {
    ...stack,
    id: newId(),
    name: freeName(recipe.name, project.sheets),
    shotId: shot.id,
  }
  for (const node of Object.values(sheet.nodes)) {
    node.locked = false
    node.effects = node.effects.map((effect) => ({ ...effect, id: newId() }))
  }
  resizeSheet(sheet, shot.frame)
  return { sheet, passes, rigs, pictures, toRender }
}

function freeName(name: string, sheets: Project['sheets']): string {
  const taken = new Set(sheets.map((sheet) => sheet.name))
  if (!taken.has(name)) return name
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`
}

/**
 * Puts what a recipe adds into a project, in place: its sheet is then at work, on the shot's sheet where that is empty.
 * @param fileIds of its pictures, by the recipe's own names.
 */
export function putUp(
  project: Project,
  { sheet, passes, rigs, pictures }: HungRecipe,
  fileIds: ReadonlyMap<string, string>,
): void {
  for (const { own, id, name, licence } of pictures) {
    const fileId = fileIds.get(own)
    if (fileId === undefined) throw new Error(`${name}: the recipe’s picture was not stored`)
    if (licence === undefined) project.pictures.push({ id, name, fileId })
    else project.fonts.push({ id, name, fileId, licence })
  }
  project.rigs.push(...rigs)
  project.passes.push(...passes)
  const shot = activeShot(project)
  const before = activeSheet(project)
  if (before.roots.length > 0) {
    shot.sheetId = sheet.id
    project.sheets.push(sheet)
  } else project.sheets[project.sheets.indexOf(before)] = { ...sheet, id: before.id }
}
