import type { PassResult } from '@/core/passes/pass-result'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { activeShot, rigOf } from '@/data/active-shot'
import { orderOf, renderedOf } from '@/data/pass-render'
import { toSceneModels } from '@/data/project-scene'
import type { Project, ProjectSheet, Quality } from '@/data/project-schema'
import { neededBy, seenAs } from '@/data/sheet-needs'
import type { RenderPool } from '@/engine/render-pool'
import type { Turning } from '@/engine/render-request'
import { renderAll } from '@/engine/render-all'
import { SheetStore } from '@/engine/sheet-store'
import type { LoadedProject } from './load-input'
import { tellRays } from './told'
import type { OpenArchive } from '@/data/project-archive'
import { bringDomes } from './bring-domes'

/** Rendered passes by the name they are kept under. */
export type Results = Map<string, PassResult>

/** A project with its geometry, and where its files are; null: it has none that light it. */
type PassSource = Pick<LoadedProject, 'project' | 'sourceOf'> & {
  readonly archive: Pick<OpenArchive, 'file'> | null
}

/**
 * Renders passes of the shot at work and notes them in the project, in place.
 * @param resultIdOf what a pass is kept under.
 * @param onPass told of each that is done.
 */
export async function renderPasses(
  { project, sourceOf, archive }: PassSource,
  passIds: readonly string[],
  quality: Quality,
  pool: RenderPool,
  results: Results,
  resultIdOf: (passId: string) => string,
  onPass: (name: string) => void = () => undefined,
): Promise<void> {
  if (!project.passes.some(({ id }) => passIds.includes(id))) return
  await pool.setScene(toSceneModels(project, sourceOf))
  await bringDomes(pool, project, archive)
  await renderInScene(project, passIds, quality, pool, results, resultIdOf, { onPass })
}

interface InScene {
  readonly onPass?: (name: string) => void
  /** The turntable that this is a pose of. */
  readonly turning?: Turning
  /** What renders a pass; as it is for a still where left out. */
  readonly orderIn?: typeof orderOf
}

/** The same with workers that have the scene already. See {@link renderPasses}. */
export async function renderInScene(
  project: Project,
  passIds: readonly string[],
  quality: Quality,
  pool: RenderPool,
  results: Results,
  resultIdOf: (passId: string) => string,
  { onPass = () => undefined, turning, orderIn = orderOf }: InScene = {},
): Promise<void> {
  const shot = activeShot(project)
  const passes = project.passes.filter(({ id }) => passIds.includes(id))
  if (passes.length === 0) return
  const orders = new Map(passes.map((pass) => [pass.id, orderIn(project, pass, quality)]))
  const rendered = await renderAll(
    {
      camera: shot.camera,
      frame: shot.frame,
      rig: rigOf(project, shot),
      seed: 0,
      preview: false,
      turning,
      passes: [...orders].map(([id, order]) => ({ id, order })),
    },
    () => Promise.resolve(pool),
    new AbortController().signal,
    (id) => onPass(passes.find((pass) => pass.id === id)?.name ?? ''),
  )
  for (const pass of passes) {
    const [made, order] = [rendered.get(pass.id), orders.get(pass.id)]
    if (!made || !order) continue
    tellRays(made.rays)
    results.set(resultIdOf(pass.id), made.result)
    pass.rendered = renderedOf(project, shot, pass, order, quality, resultIdOf(pass.id), made)
  }
}

/** What a sheet shows, from passes at hand. Pictures are to be put in by who has them. */
export function storeOf(project: Project, sheet: ProjectSheet, results: Results): SheetStore {
  const store = new SheetStore()
  for (const pass of neededBy(project, sheet).passes) {
    const result = pass.rendered && results.get(pass.rendered.resultId)
    if (!pass.rendered || !result) continue
    const { facts, ...seen } = seenAs(project, pass)
    store.passes.set(pass.id, {
      result: { ...result, ...seen, ...(facts && { facts }) },
      revision: pass.rendered.resultId,
      shotId: pass.shotId,
    })
  }
  return store
}

/** A sheet of a project as RGBA bytes. */
export function sheetPicture(
  sheet: ProjectSheet,
  store: SheetStore,
  size: { readonly width: number; readonly height: number } = sheet,
): Uint8Array<ArrayBuffer> {
  const evaluator = new SheetEvaluator(new KeptTiles(), store.resources)
  evaluator.begin(planSheet(sheet, { size: { width: size.width, height: size.height } }, store.resources))
  return wholePicture(evaluator, size, 'bytes')
}
