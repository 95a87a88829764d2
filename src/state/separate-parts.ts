import type { Draft } from 'immer'
import { CancelledError } from '@/core/errors'
import { safeFileName } from '@/core/formats/safe-file-name'
import { paramDefaults, type ParamValues } from '@/core/params'
import type { EffortName } from '@/core/passes/effort'
import { passKind } from '@/core/passes/registry'
import { ATLAS_MANIFEST, type AtlasSetting } from '@/core/separate/atlas'
import { onPages } from '@/core/separate/atlas-pictures'
import { backdropOrders, type BackdropPicture } from '@/core/separate/backdrop'
import {
  SEPARATION_MANIFEST,
  separationManifest,
  setFiles,
  type SeparationManifest,
  type SetFiles,
} from '@/core/separate/separation-manifest'
import type { PackedPicture } from '@/core/separate/separation-desk'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import type { ScenePart } from '@/core/scene/scene-geometry'
import { setsBy, setsFitting, type PartSet, type Separation, type SetsBy } from '@/core/separate/separations'
import { partsOfMaterials } from '@/core/separate/split-materials'
import { laidAt, laidOut } from '@/core/sheet/picture-box'
import { groupOf, newLayer, wholePicture } from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import { activeSheet, activeShot, rigOf, rigOfPass } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { lookOnSheet } from '@/data/look-on-sheet'
import { sceneParts } from '@/data/project-scene'
import type { Project, ProjectPass, ProjectSheet } from '@/data/project-schema'
import { storeFile } from '@/data/storage-service'
import { renderBackdrop } from '@/engine/render-backdrop'
import { picturesOf, renderSeparations, type SeparatedSet } from '@/engine/render-separations'
import { withSeparation, type SeparationService } from '@/engine/separation-service'
import { changeProject, useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { bringDomes, dropWorkers, inTurn, sceneFor } from './render-scene'
import { setBench } from './view-store'

/** How parts are to be separated. */
export interface SeparationChoice {
  readonly by: SetsBy
  /** Names that sets must fit; empty: all. See `fitsPattern`. */
  readonly pattern: string
  readonly how: Separation
  readonly shadows: boolean
  /** What the ground mirrors of each. */
  readonly reflections: boolean
  readonly trim: boolean
  /** The pass that they are rendered in: one of the shot's, or lit as it is by default where null. */
  readonly passId: string | null
  readonly quality: EffortName
  /** How a zip's pictures are packed onto pages; null: each is a file of its own. */
  readonly atlas: AtlasSetting | null
  /** How many times as large as the shot they are rendered. */
  readonly scale: number
}

/** All parts of the scene as sets are made of them. @param isIn which of the parts. */
const partsBy = (
  by: SetsBy,
  project: Project,
  isIn: (part: { readonly key: string }) => boolean = () => true,
): ScenePart[] => {
  if (by !== 'material') return sceneParts(project).filter(isIn)
  return project.models.flatMap((model) => {
    const own = model.parts.filter(isIn)
    const parts = sceneParts({ models: [{ ...model, parts: own }], groups: project.groups })
    const used = own.map(({ materials }) => [...new Set(materials)].sort((a, b) => a - b))
    return partsOfMaterials(
      parts,
      model.materials,
      used.map((numbers) => (numbers.length === 0 ? [0] : numbers)),
    )
  })
}

/** The sets that a choice names, in the order of the scene. */
export function chosenSets(
  project: Project,
  { by, pattern }: Pick<SeparationChoice, 'by' | 'pattern'>,
): PartSet[] {
  const shaped = new Set(
    project.models.flatMap(({ parts }) => parts.filter(({ polygons }) => polygons > 0).map(({ key }) => key)),
  )
  const parts = partsBy(by, project, ({ key }) => shaped.has(key))
  const all = setsBy(by, parts)
  return pattern.trim() === '' ? all : setsFitting(by, all, parts, pattern)
}

/** Passes that sets may be rendered in: those of the shot at work, but the shadow, which sets have of their own. */
export const separablePasses = (project: Project): ProjectPass[] =>
  project.passes.filter(({ shotId, kind }) => shotId === project.shotId && kind !== 'shadow')

/** Sets on their way to somewhere. */
interface Separating {
  readonly service: SeparationService
  readonly sets: readonly PartSet[]
  readonly files: readonly SetFiles[]
}

/**
 * Renders the sets of a choice.
 * @param take is given each as it is done.
 * @param finish is given what is told of all.
 * @throws {CancelledError} when aborted; {Error} in words.
 */
async function separate<T>(
  project: Project,
  choice: SeparationChoice,
  take: (separating: Separating, done: SeparatedSet) => Promise<void>,
  finish: (separating: Separating, manifest: SeparationManifest) => Promise<T>,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<T> {
  const nothing = nothingToRender(project)
  if (nothing !== null) throw new Error(nothing)
  const sets = chosenSets(project, choice)
  if (sets.length === 0) throw new Error(`no ${choice.by} is called ${choice.pattern}`)
  const shot = activeShot(project)
  const { camera } = shot
  const { how, shadows, reflections, trim, quality, scale } = choice
  const frame = { width: shot.frame.width * scale, height: shot.frame.height * scale }
  if (Math.max(frame.width, frame.height) > MAX_PICTURE_SIDE)
    throw new Error(`${scale} times the shot is larger than ${MAX_PICTURE_SIDE} pixels a side`)
  const own = project.passes.find(({ id }) => id === choice.passId)
  const kind = own?.kind ?? 'lit'
  const rig = own ? rigOfPass(project, own) : rigOf(project, shot)
  const look = lookOnSheet(project, own?.id, kind)
  const parts = partsBy(choice.by, project)
  if (reflections && !parts.some(({ role }) => role === 'ground'))
    throw new Error('reflections are of the ground, and no part is the ground: give one that role at Models')
  const files = setFiles(
    sets.map(({ name }) => safeFileName(name)),
    { shadows, reflections },
  )
  const request = {
    camera,
    frame,
    rig,
    seed: 0,
    sets,
    parts,
    how,
    pass: {
      kind,
      params: own?.params ?? paramDefaults(passKind(kind).renderSchema),
      effort: passKind(kind).efforts[quality],
      rig,
    },
    look,
    shadow: shadows
      ? { quality, look: { ...paramDefaults(passKind('shadow').lookSchema), density: 1 } }
      : null,
    reflection: reflections ? { quality, ...reflectionLike(kind, look) } : null,
  }
  const workers = async () => {
    const pool = await sceneFor(project, choice.by === 'material')
    await bringDomes(pool, project, rig)
    return pool
  }
  const turn = <T>(work: () => Promise<T>) => inTurn(work, signal)
  try {
    return await withSeparation(
      { frame, count: sets.length, how, trim, bits: 8 },
      signal,
      async (service) => {
        const separating = { service, sets, files }
        const place = { workers, turn, desk: service.desk }
        const report = await renderSeparations(
          request,
          place,
          (done) => take(separating, done),
          signal,
          onShare,
        )
        return finish(separating, separationManifest(request, files, report))
      },
    )
  } catch (error) {
    // One that failed may be missing.
    if (!(error instanceof CancelledError)) dropWorkers()
    throw error
  }
}

/** A reflection in what the sets themselves are shown in. */
export function reflectionLike(
  kind: ProjectPass['kind'],
  look: ParamValues,
): { readonly params: ParamValues; readonly look: ParamValues } {
  const own = paramDefaults(passKind('reflection').lookSchema)
  return kind === 'clay'
    ? { params: { shows: 'clay' }, look: { ...own, clay: look.colour, exposure: look.exposure } }
    : { params: {}, look: own }
}

/**
 * Separates parts into a zip of pictures with a manifest.
 * @throws {CancelledError} when aborted; {Error} in words.
 */
export function separateToZip(
  project: Project,
  choice: SeparationChoice,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<{ readonly zip: Blob; readonly manifest: SeparationManifest }> {
  const { atlas } = choice
  const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value, null, 2) + '\n')
  return separate(
    project,
    // What lies on pages is cut to what it holds.
    { ...choice, trim: choice.trim || atlas !== null },
    async ({ service, sets, files }, separated) => {
      if (atlas) {
        const { index, order, picture, shadow, reflection } = separated
        await service.toAtlas(atlas, { name: sets[index].name, order, picture, shadow, reflection })
        return
      }
      for (const { name, file } of picturesOf(separated, files[separated.index]))
        await service.add(name, file)
    },
    async ({ service }, manifest) => {
      const packed = atlas && (await service.packAtlas(manifest))
      if (packed) await service.add(ATLAS_MANIFEST, json(packed))
      await service.add(SEPARATION_MANIFEST, json(packed ? onPages(manifest, packed) : manifest))
      return { zip: await service.finish(), manifest }
    },
    onShare,
    signal,
  )
}

/** Where a rectangle of the shot's frame lies on a sheet. */
function onSheet(
  box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number },
  frame: { readonly width: number; readonly height: number },
  sheet: ProjectSheet,
) {
  const { size } = laidOut(frame, sheet, sheet.fit === 'crop' ? 'fill' : 'whole')
  const scale = (size[0] * sheet.width) / frame.width
  const left = (sheet.width - scale * frame.width) / 2
  const top = (sheet.height - scale * frame.height) / 2
  const placed = { x: left + scale * box.x, y: top + scale * box.y }
  return laidAt({ ...placed, width: scale * box.width, height: scale * box.height }, sheet)
}

/**
 * Separates parts into a group of layers in front of the sheet at work, in their order; shadows and reflections are there and hidden: what
 * is lit may hold them already. One undo step.
 * @returns what is told of them; null where another project is open meanwhile.
 * @throws {CancelledError} when aborted; {Error} in words.
 */
export async function separateToSheet(
  project: Project,
  choice: SeparationChoice,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<SeparationManifest | null> {
  const { frame } = activeShot(project)
  const sheet = activeSheet(project)
  /** Frontmost first. Nothing is stored before all are there: what is cancelled leaves nothing. */
  const made: { readonly name: string; readonly picture: PackedPicture; readonly isSeen: boolean }[] = []
  const manifest = await separate(
    project,
    { ...choice, trim: true, scale: 1 },
    ({ sets }, { index, picture, shadow, reflection }) => {
      const { name } = sets[index]
      made.push({ name, picture, isSeen: true })
      if (reflection) made.push({ name: `${name}, reflection`, picture: reflection, isSeen: false })
      if (shadow) made.push({ name: `${name}, shadow`, picture: shadow, isSeen: false })
      return Promise.resolve()
    },
    (_separating, told) => Promise.resolve(told),
    onShare,
    signal,
  )
  const now = useProjectStore.getState().project
  if (now?.id !== project.id) return null
  if (!now.sheets.some(({ id }) => id === sheet.id)) throw new Error(`${sheet.name} is not there any more`)
  const pictures: Project['pictures'] = []
  const layers: SheetNode[] = []
  for (const { name, picture, isSeen } of made) {
    const stored = { id: newId(), name: `${safeFileName(name)}.png`, fileId: newId() }
    await storeFile(project.id, stored.fileId, stored.name, picture.file)
    pictures.push(stored)
    const content = { ...wholePicture(stored.id), ...onSheet(picture, frame, sheet) }
    const mode = isSeen && choice.how === 'seen' ? 'plus-lighter' : 'normal'
    layers.push(newLayer({ id: newId(), name, content, visible: isSeen, mode }))
  }
  hangGroup('separate parts', 'Parts apart', sheet.id, pictures, layers.reverse())
  return manifest
}

const BACKDROP_NAMES: Readonly<Record<BackdropPicture, string>> = {
  ground: 'Ground, bare',
  shadow: 'Shadow on it',
  occlusion: 'Occlusion on it',
  reflection: 'Mirrored in it',
  subject: 'What stands there',
}

/**
 * Takes the ground apart into a group of layers in front of the sheet at work: bare, its shadow, its occlusion, what it mirrors, and what
 * stands on it. One undo step.
 * @returns how far they are from the whole, 0…1; null where another project is open meanwhile.
 * @throws {CancelledError} when aborted; {Error} in words.
 */
export async function backdropToSheet(
  project: Project,
  { passId, quality }: Pick<SeparationChoice, 'passId' | 'quality'>,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<number | null> {
  const nothing = nothingToRender(project)
  if (nothing !== null) throw new Error(nothing)
  const shot = activeShot(project)
  const sheet = activeSheet(project)
  const { camera, frame } = shot
  const own = project.passes.find(({ id, kind }) => id === passId && kind === 'lit')
  const rig = own ? rigOfPass(project, own) : rigOf(project, shot)
  const look = lookOnSheet(project, own?.id, 'lit')
  const lit = passKind('lit')
  const orders = backdropOrders(
    {
      kind: 'lit',
      params: own?.params ?? paramDefaults(lit.renderSchema),
      effort: lit.efforts[quality],
      rig,
    },
    sceneParts(project),
  )
  if (!orders)
    throw new Error('there must be a part that is the ground, and one that is not: roles are given at Models')
  const workers = async () => {
    const pool = await sceneFor(project)
    await bringDomes(pool, project, rig)
    return pool
  }
  try {
    const { files, manifest } = await withSeparation(
      { frame, count: 1, how: 'whole', trim: false, bits: 8 },
      signal,
      async (service) => {
        const renders = await inTurn(
          () => renderBackdrop({ camera, frame, rig, seed: 0 }, orders, workers, signal, onShare),
          signal,
        )
        return service.backdrop(renders, look)
      },
    )
    const now = useProjectStore.getState().project
    if (now?.id !== project.id) return null
    if (!now.sheets.some(({ id }) => id === sheet.id)) throw new Error(`${sheet.name} is not there any more`)
    const pictures: Project['pictures'] = []
    const layers: SheetNode[] = []
    for (const { shows, file, mode } of manifest.pictures) {
      const bytes = files.get(file)
      if (!bytes) continue
      const stored = { id: newId(), name: file, fileId: newId() }
      await storeFile(project.id, stored.fileId, stored.name, bytes)
      pictures.push(stored)
      const content = { ...wholePicture(stored.id), ...onSheet({ x: 0, y: 0, ...frame }, frame, sheet) }
      layers.push(newLayer({ id: newId(), name: BACKDROP_NAMES[shows], content, mode }))
    }
    hangGroup('backdrop apart', 'Backdrop apart', sheet.id, pictures, layers)
    return manifest.difference
  } catch (error) {
    // One that failed may be missing.
    if (!(error instanceof CancelledError)) dropWorkers()
    throw error
  }
}

/** Hangs a group in front of a sheet, as one step. @param layers back first. */
function hangGroup(
  step: string,
  name: string,
  sheetId: string,
  pictures: Project['pictures'],
  layers: readonly SheetNode[],
): void {
  const group = newLayer({ id: newId(), name, content: groupOf(layers.map(({ id }) => id)) })
  changeProject(step, (draft) => {
    const at = draft.sheets.find(({ id }) => id === sheetId)
    if (!at) return
    draft.pictures.push(...(pictures as Draft<Project>['pictures']))
    insertNode(at, group, { parent: null, index: Infinity })
    for (const layer of layers) at.nodes[layer.id] = layer as Draft<SheetNode>
  })
  setBench({ layerId: group.id, peel: Infinity })
}
