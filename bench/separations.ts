import { loadAsProject } from '../cli/load-input'
import { paramDefaults } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { SeparationDesk } from '@/core/separate/separation-desk'
import { SET_SHADOW_EFFORTS, setShadowOrder, setsBy } from '@/core/separate/separations'
import { rigOf } from '@/data/active-shot'
import { sceneParts, toSceneModels } from '@/data/project-scene'
import { RenderPool } from '@/engine/render-pool'
import { renderSeparations } from '@/engine/render-separations'
import { spawnNodeWorkers } from '@/engine/spawn-node'

/**
 * Sixty parts of the demo as whole pictures with shadows, 1280 × 800, good, two workers; beside it six of the same shadows as passes
 * of their own, each counted for ten.
 */
const SETS = 60
const FRAME = { width: 1280, height: 800 }

export async function main(): Promise<void> {
  const { project, sourceOf } = await loadAsProject(['demo/low-water.zip'])
  const shot = project.shots.find(({ id }) => id === project.shotId) ?? project.shots[0]
  const parts = sceneParts(project)
  const shaped = new Set(
    project.models.flatMap((model) => model.parts.filter((part) => part.polygons > 0).map(({ key }) => key)),
  )
  const sets = setsBy(
    'part',
    parts.filter(({ key }) => shaped.has(key)),
  ).slice(0, SETS)
  const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), 2)
  const signal = new AbortController().signal
  try {
    await pool.setScene(toSceneModels(project, sourceOf))
    const rig = rigOf(project, shot)
    const { camera } = shot
    const lit = passKind('lit')
    const pass = {
      kind: 'lit',
      params: paramDefaults(lit.renderSchema),
      effort: lit.efforts.good,
    } as const
    const shadow = { quality: 'good', look: paramDefaults(passKind('shadow').lookSchema) } as const
    let bytes = 0
    let most = 0
    const started = performance.now()
    const { difference, set } = await renderSeparations(
      {
        camera,
        frame: FRAME,
        rig,
        seed: 0,
        sets,
        parts,
        how: 'whole',
        pass,
        look: paramDefaults(lit.lookSchema),
        shadow,
        reflection: null,
      },
      {
        workers: () => Promise.resolve(pool),
        desk: new SeparationDesk({ frame: FRAME, count: sets.length, how: 'whole', trim: true, bits: 8 }),
      },
      ({ picture, shadow: thrown }) => {
        bytes += picture.file.length + (thrown?.file.length ?? 0)
        most = Math.max(most, process.memoryUsage().rss)
        return Promise.resolve()
      },
      signal,
    )
    const seconds = (performance.now() - started) / 1000
    const cut = set.front.cuts.filter((list) => list.length > 0).length
    console.log(
      `${sets.length} parts, whole, with shadows, ${FRAME.width} × ${FRAME.height}, good: ${seconds.toFixed(0)} s; ${(bytes / 2 ** 20).toFixed(1)} MB of files; put together ${(255 * difference).toFixed(3)} of 255 from the whole; ${cut} cut; memory at most ${Math.round(most / 2 ** 20)} MB`,
    )
    // Each as a pass of its own, so that nothing is shared.
    let alone = 0
    for (let i = 0; i < sets.length; i += SETS / 6) {
      const order = setShadowOrder(SET_SHADOW_EFFORTS.good, sets[i], parts, 'whole', shadow.look)
      const began = performance.now()
      await pool.render({ camera, frame: FRAME, rig, orders: [order], seed: 0, preview: false }, {}, signal)
      alone += (performance.now() - began) / 1000
    }
    console.log(`their shadows alone, one after the other: about ${(10 * alone).toFixed(0)} s`)
  } finally {
    pool.close()
  }
}
