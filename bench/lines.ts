import { cpus } from 'node:os'
import { readModel } from '@/core/formats/model-readers'
import { DEFAULT_LINE_SETTING, findLines } from '@/core/lines/find-lines'
import type { LineKind } from '@/core/lines/line-kinds'
import { buildSceneGeometry, type SceneGeometry } from '@/core/scene/scene-geometry'
import { framePoints, plainLens, type Camera } from '@/core/scene/camera'
import { subjectPoints } from '@/core/scene/scene-geometry'
import { sceneModel } from '@/core/testing/shapes'
import { LINES_ALONE } from '@/core/passes/line-pass'
import { drawPass } from '@/core/passes/render-tile'
import { activeShot, rigOf } from '@/data/active-shot'
import { RenderPool } from '@/engine/render-pool'
import { spawnNodeWorkers } from '@/engine/spawn-node'
import { loadScene } from '../cli/load-input'
import { dentedBall } from './dented-ball'

const FRAME = { width: 1280, height: 800 }
const ROUNDS = 5
const ALL: LineKind[] = [...DEFAULT_LINE_SETTING.kinds, 'suggestive', 'shadow']
const SUN = { kind: 'sun', toLight: [-0.6, 0.5, 0.62] } as const

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]
const timed = (rounds: number, work: () => void): number => {
  const times: number[] = []
  for (let i = 0; i < rounds; i++) {
    const start = performance.now()
    work()
    times.push(performance.now() - start)
  }
  return median(times)
}

/** Finding the lines of the demo, and of a closed organic form at three sizes. */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}; one thread, medians of ${ROUNDS}`)
  const { models, project } = await loadScene(['demo/low-water.zip'])
  if (!project) throw new Error('the demo is no project')
  const demo = buildSceneGeometry(models)
  const { camera } = activeShot(project)
  const find = (scene: SceneGeometry, view: Camera, kinds: readonly LineKind[]) =>
    findLines(scene, view, FRAME, { ...DEFAULT_LINE_SETTING, kinds, light: SUN })
  for (const [name, kinds] of [
    ['usual kinds', DEFAULT_LINE_SETTING.kinds],
    ['all but wire', ALL],
    ['all', [...ALL, 'wire']],
  ] as const) {
    const drawing = find(demo, camera, kinds)
    const ms = timed(ROUNDS, () => find(demo, camera, kinds))
    console.log(
      `demo, ${demo.triangleCount} triangles, ${name}: ${(ms / 1000).toFixed(2)} s, ${drawing.count} lines, ${drawing.starts[drawing.count]} points`,
    )
  }
  const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), 2)
  await pool.setScene(models)
  const order = {
    kind: 'contour',
    params: { suggestive: true, shadow: true },
    effort: LINES_ALONE.final,
  } as const
  const rig = rigOf(project, activeShot(project))
  const signal = new AbortController().signal
  const alone = timed(ROUNDS, () => void drawPass(demo, { camera, frame: FRAME, rig }, order, null))
  console.log(
    `demo, all but wire as a contour pass, its own low sun, one thread: ${(alone / 1000).toFixed(2)} s`,
  )
  const times: number[] = []
  for (let i = 0; i < ROUNDS; i++) {
    const start = performance.now()
    await pool.draw({ camera, frame: FRAME, rig, order }, signal)
    times.push(performance.now() - start)
  }
  pool.close()
  const first = times[0]
  console.log(
    `the same on two workers: ${(median(times) / 1000).toFixed(2)} s by the clock, ${(first / 1000).toFixed(2)} the first time`,
  )
  for (const rows of [158, 316, 500]) {
    const files = new Map([['ball.obj', dentedBall(rows, 2 * rows)]])
    const scene = buildSceneGeometry([sceneModel((await readModel(files, 'ball.obj')).mesh)])
    const view = framePoints(subjectPoints(scene), 30, 20, FRAME, plainLens(30, false))
    const kinds = ['silhouette', 'crease', 'border', 'suggestive'] as const
    const found = find(scene, view, kinds)
    const ms = timed(3, () => find(scene, view, kinds))
    console.log(
      `organic form, ${scene.triangleCount} triangles: ${(ms / 1000).toFixed(2)} s, ${found.count} lines, ${((1e6 * ms) / 1000 / scene.triangleCount).toFixed(2)} µs a triangle`,
    )
  }
}
