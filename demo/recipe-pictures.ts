import { mkdir, writeFile } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { produce } from 'immer'
import { encode } from 'jpeg-js'
import { resizePicture } from '@/core/picture/resample'
import { fromRgba8, toStraight8 } from '@/core/picture/rgba-picture'
import { framePoints } from '@/core/scene/camera'
import { buildSceneGeometry, subjectPoints } from '@/core/scene/scene-geometry'
import { activeShot } from '@/data/active-shot'
import { toSceneModels } from '@/data/project-scene'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { hangRecipe, putUp } from '@/data/recipes/hang-recipe'
import { answersOf, matchRecipe } from '@/data/recipes/match-recipe'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import type { Recipe } from '@/data/recipes/recipe-schema'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { loadAsProject, type LoadedProject } from '../cli/load-input'
import { renderPasses, sheetPicture, storeOf, type Results } from '../cli/render-project'
import { withRoles } from '../cli/view'

const FRAME = { width: 1200, height: 750 }
const SHOWN = { width: 640, height: 400 }

/** The models that recipes are shown on. */
const MODELS = ['low-water', 'fog-bell'] as const
type ModelName = (typeof MODELS)[number]

async function load(name: ModelName, demo: string): Promise<LoadedProject> {
  if (name === 'low-water') {
    const loaded = await loadAsProject([path.join(demo, 'low-water.zip')])
    return { ...loaded, project: { ...loaded.project, passes: [], sheets: loaded.project.sheets } }
  }
  return fogBellProject(demo)
}

/** The fog bell as a project: the slip is its ground, and it is seen a little from above. */
export async function fogBellProject(demo: string): Promise<LoadedProject> {
  const loaded = await loadAsProject([path.join(demo, 'fog-bell.obj')])
  const project = produce(loaded.project, (draft) => {
    draft.models = withRoles(draft.models, { ground: 'Slip' })
    draft.name = 'Fog Bell'
    const shot = activeShot(draft)
    shot.name = 'On the slip'
    shot.frame = FRAME
    const points = subjectPoints(buildSceneGeometry(toSceneModels(draft as Project, loaded.sourceOf)))
    const lens = { fovDeg: 26, orthoHeight: null }
    shot.camera = structuredClone(framePoints(points, -34, 9, FRAME, lens, 0.07)) as typeof shot.camera
  })
  return { ...loaded, project }
}

/** A picture of each recipe on each model, `{recipe}-{model}.jpg`. @param only ids of recipes; all where empty. */
export async function makePictures(
  root: string,
  folder: string,
  only: readonly string[] = [],
): Promise<void> {
  await mkdir(folder, { recursive: true })
  const recipes = READY_RECIPES.filter(({ id }) => only.length === 0 || only.includes(id))
  for (const name of MODELS) {
    const { project: bare, sourceOf } = await load(name, path.join(root, 'demo'))
    const project = structuredClone(bare)
    let made = 0
    const sheets: { recipe: Recipe; sheet: ProjectSheet }[] = []
    for (const recipe of recipes) {
      // All in one project: passes that are alike are rendered once.
      const hung = hangRecipe(
        recipe,
        project,
        answersOf(matchRecipe(recipe, project)),
        () => `made-${++made}`,
      )
      putUp(project, hung, new Map())
      sheets.push({ recipe, sheet: project.sheets[project.sheets.length - 1] })
    }
    const results: Results = new Map()
    const pool = new RenderPool(
      spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)),
      availableParallelism(),
    )
    try {
      const ids = project.passes.map(({ id }) => id)
      await renderPasses(
        { project, sourceOf, archive: null },
        ids,
        'final',
        pool,
        results,
        (id) => id,
        (pass) => console.log(`${name}: ${pass}`),
      )
    } finally {
      pool.close()
    }
    for (const { recipe, sheet } of sheets) {
      const data = sheetPicture(sheet, storeOf(project, sheet, results))
      await writeFile(
        path.join(folder, `${recipe.id}-${name}.jpg`),
        encode({ ...SHOWN, data: smaller(data) }, 88).data,
      )
    }
  }
}

/** RGBA bytes of the frame's size, as small as they are shown. */
const smaller = (data: Uint8Array): Uint8ClampedArray =>
  toStraight8(resizePicture(fromRgba8(data, FRAME.width, FRAME.height), SHOWN.width, SHOWN.height).pixels)
