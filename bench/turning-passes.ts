import { loadAsProject } from '../cli/load-input'
import { decodeChannel } from '@/core/picture/channel'
import type { PassOrder } from '@/core/passes/render-tile'
import { passKind } from '@/core/passes/registry'
import { newTurn } from '@/core/turn/turn-schema'
import { rigOf } from '@/data/active-shot'
import { toSceneModels } from '@/data/project-scene'
import { projectInFrame, turningOf, turnOrder, turnPoses, turnStage } from '@/data/turn-frames'
import { RenderPool } from '@/engine/render-pool'
import type { RenderedPass } from '@/engine/render-request'
import { spawnNodeWorkers } from '@/engine/spawn-node'

/**
 * Passes of a turntable of two turns, 120 frames in 60 poses: kept on the surfaces against traced, in the same run. Poses are
 * rendered all when they are kept; of those that are traced every tenth is, and counts for ten.
 */
const SIZE = { width: 1280, height: 720 }
const SETS = [['occlusion'], ['clay', 'occlusion']]
/** Pose in which errors against very many rays are told, at a smaller size. */
const LOOKED_AT = 1
const SMALL = { width: 480, height: 270 }
const MANY = { samples: 16, rays: 64 }

export async function main(): Promise<void> {
  const { project, sourceOf } = await loadAsProject(['demo/brass-gauge.zip'])
  const turn = newTurn('t', 't', project.sheets[0].id, { turns: 2, framesPerTurn: 60 })
  const stage = turnStage(project, turn, [0, 0.9, 0])
  const poses = turnPoses(stage)
  const signal = new AbortController().signal
  for (const kinds of SETS) {
    const pool = new RenderPool(spawnNodeWorkers(new URL('./node-worker.mjs', import.meta.url)), 2)
    await pool.setScene(toSceneModels(project, sourceOf))
    const render = async (i: number, size: typeof SIZE, isKept: boolean, effort?: PassOrder['effort']) => {
      const own = projectInFrame(stage, poses[i].poses[0], 0, size)
      const shot = own.shots.find(({ id }) => id === stage.shot.id) ?? own.shots[0]
      const passes = own.passes.filter(({ kind }) => kinds.includes(kind))
      const orders = passes.map((pass) => ({
        ...turnOrder(own, pass, 'good'),
        denoise: false,
        ...(effort && { effort }),
      }))
      const { orders: all, ...rest } = turningOf(stage, size, 'good')
      const turning = isKept ? { ...rest, orders: all.filter(({ kind }) => kinds.includes(kind)) } : null
      const started = performance.now()
      const rendered = await pool.render(
        {
          camera: shot.camera,
          frame: shot.frame,
          rig: rigOf(own, shot),
          seed: 0,
          preview: false,
          orders,
          turning,
        },
        {},
        signal,
      )
      return { seconds: (performance.now() - started) / 1000, rendered }
    }
    // 1. Errors.
    const [exact, traced, kept] = [
      await render(LOOKED_AT, SMALL, false, MANY),
      await render(LOOKED_AT, SMALL, false),
      await render(LOOKED_AT, SMALL, true),
    ]
    for (const [k, { result }] of exact.rendered.entries())
      console.log(
        `${kinds.join('+')} ${result.kind}: mean error in 255ths, traced ${errorOf(traced.rendered[k], exact.rendered[k])}, kept ${errorOf(kept.rendered[k], exact.rendered[k])}`,
      )
    // 2. Time.
    let once = 0
    let counted = 0
    for (let i = 0; i < poses.length; i += 10, counted++) once += (await render(i, SIZE, false)).seconds
    once *= poses.length / counted
    let all = 0
    const last: number[] = []
    for (let i = 0; i < poses.length; i++) {
      const { seconds } = await render(i, SIZE, true)
      all += seconds
      if (i >= poses.length - 10) last.push(seconds)
    }
    last.sort((a, b) => a - b)
    console.log(
      `${kinds.join('+')}: 120 frames traced ${(2 * once).toFixed(0)} s, each pose once ${once.toFixed(0)} s, kept ${all.toFixed(0)} s (${(once / all).toFixed(2)} and ${((2 * once) / all).toFixed(2)} times); a pose at the end ${last[5].toFixed(2)} s`,
    )
    pool.close()
  }
}

/** Mean error of the channels of a pass but coverage. */
function errorOf({ result }: RenderedPass, { result: exact }: RenderedPass): string {
  const specs = passKind(result.kind).channels(result.lights, result.params)
  const count = result.width * result.height
  return specs
    .slice(0, -1)
    .map(({ name, format }, c) => {
      const [a, b] = [result, exact].map(({ channels }) => {
        const out = new Float32Array(count)
        decodeChannel({ name, format, data: channels[c] }, 0, count, out)
        return out
      })
      return `${name} ${((255 * a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0)) / count).toFixed(2)}`
    })
    .join(', ')
}
