import type { SceneModel } from '@/core/scene/scene-geometry'
import type { BuildReport } from '@/engine/messages'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'

/** Does something with workers that have a scene; they are gone after it, however it ends. */
export async function withScene<T>(
  models: readonly SceneModel[],
  threads: number,
  work: (pool: RenderPool, build: BuildReport) => Promise<T>,
): Promise<T> {
  const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
  try {
    return await work(pool, await pool.setScene(models))
  } finally {
    pool.close()
  }
}
