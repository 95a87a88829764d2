import type { SceneModel } from '@/core/scene/scene-geometry'
import type { OpenArchive } from '@/data/project-archive'
import type { Project } from '@/data/project-schema'
import type { BuildReport } from '@/engine/messages'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { bringDomes } from './bring-domes'

/** A scene, and the project that it is of with what that was read from. */
export interface SceneOf {
  readonly models: readonly SceneModel[]
  readonly project?: Project | null
  readonly archive?: Pick<OpenArchive, 'file'> | null
}

/** Does something with workers that have a scene and what lights it; they are gone after it, however it ends. */
export async function withScene<T>(
  { models, project, archive = null }: SceneOf,
  threads: number,
  work: (pool: RenderPool, build: BuildReport) => Promise<T>,
): Promise<T> {
  const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), threads)
  try {
    const report = await pool.setScene(models)
    await bringDomes(pool, project, archive)
    return await work(pool, report)
  } finally {
    pool.close()
  }
}
