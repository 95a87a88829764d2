import { cpus } from 'node:os'
import { paramDefaults } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { TileJob, tilesFromMiddle } from '@/core/passes/render-tile'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { activeShot, rigOf } from '@/data/active-shot'
import { loadScene } from '../cli/load-input'

const FRAME = { width: 640, height: 400 }
const EFFORT = process.env.RELIEF_QUALITY === 'final' ? 'final' : 'good'
const ROUNDS = 3

/** Every pass of the demo by itself on one thread: seconds (median of three) and rays a second. */
export async function main(): Promise<void> {
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; ${FRAME.width} × ${FRAME.height}, ${EFFORT}`,
  )
  const { models, project } = await loadScene(['demo/low-water.zip'])
  if (!project) throw new Error('the demo is no project')
  const scene = buildSceneGeometry(models)
  const shot = activeShot(project)
  const rig = rigOf(project, shot)
  // Drawings have a bench of their own: lines.ts.
  const sampled = PASS_KINDS.filter((kind) => passKind(kind).lines === null)
  const kinds = process.env.RELIEF_PASS ? sampled.filter((k) => k === process.env.RELIEF_PASS) : sampled
  const runs = kinds.map((kind) => {
    const params = paramDefaults(passKind(kind).renderSchema)
    const orders = [{ kind, params, effort: passKind(kind).efforts[EFFORT] }]
    const setting = { camera: shot.camera, frame: FRAME, rig }
    return new TileJob(
      scene,
      setting,
      () => null,
      orders,
      0,
      () => performance.now(),
    )
  })
  const seconds = kinds.map(() => [] as number[])
  const rays = kinds.map(() => 0)
  for (let round = 0; round < ROUNDS; round++)
    runs.forEach((job, k) => {
      const start = performance.now()
      rays[k] = 0
      for (const tile of tilesFromMiddle(FRAME, 32)) rays[k] += job.render(tile, () => false)[0].rays
      seconds[k].push((performance.now() - start) / 1000)
    })
  console.log('pass        seconds  M rays  M rays/s')
  kinds.forEach((kind, k) => {
    const median = seconds[k].sort((a, b) => a - b)[ROUNDS >> 1]
    console.log(
      `${kind.padEnd(11)} ${median.toFixed(2).padStart(7)}  ${(rays[k] / 1e6).toFixed(2).padStart(6)}  ${(rays[k] / 1e6 / median).toFixed(2)}`,
    )
  })
}
