import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { describe, expect, it } from 'vitest'
import { CancelledError } from '@/core/errors'
import type { PassResult } from '@/core/passes/pass-result'
import type { Tile } from '@/core/passes/pass-kind'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { paramDefaults, type ParamValues } from '@/core/params'
import { ball, cube, fromFront, sceneModel } from '@/core/testing/shapes'
import type { FromWorker } from './messages'
import { RenderPool, type RenderRequest, type SpawnWorker } from './render-pool'
import { WorkerCore } from './worker-core'

/** Workers that answer in this thread, each after a delay of its own, so that tiles come back out of order. */
const spawn =
  (delaysMs: readonly number[]): SpawnWorker =>
  (onMessage) => {
    const core = new WorkerCore(() => performance.now())
    const delay = delaysMs[spawned++ % delaysMs.length]
    return {
      post: (message) => void setTimeout(() => onMessage(core.handle(message).reply), delay),
      close: () => undefined,
    }
  }
let spawned = 0

const FRAME = { width: 160, height: 128 }
const MODELS = [sceneModel(cube(0.8), 'block'), sceneModel(ball(1.1, 12), 'ball')]
const request = (changes: Partial<RenderRequest> = {}): RenderRequest => ({
  camera: fromFront(4),
  frame: FRAME,
  rig: DEFAULT_RIG,
  orders: PASS_KINDS.map((kind) => ({
    kind,
    params: paramDefaults(passKind(kind).renderSchema) as ParamValues,
    effort: { samples: 1, rays: 2 },
  })),
  seed: 7,
  preview: false,
  ...changes,
})
const never = new AbortController().signal
const bytesOf = (result: PassResult) => result.channels.map((c) => Buffer.from(c.buffer as ArrayBuffer))

describe('RenderPool', () => {
  it('gives the same bits on one worker and on three that finish out of order, preview or not', async () => {
    const one = new RenderPool(spawn([0]), 1)
    await one.setScene(MODELS)
    const expected = await one.render(request(), {}, never)
    const three = new RenderPool(spawn([3, 0, 1]), 3)
    await three.setScene(MODELS)
    const found = await three.render(request({ preview: true }), {}, never)
    expected.forEach(({ result, rays }, i) => {
      expect(found[i].rays).toBe(rays)
      bytesOf(result).forEach((bytes, c) => expect(bytes.equals(bytesOf(found[i].result)[c])).toBe(true))
    })
    const other = await three.render(request({ seed: 8 }), {}, never)
    expect(bytesOf(other[0].result)[0].equals(bytesOf(expected[0].result)[0])).toBe(false)
  })

  it('shows the whole picture coarsely first, then every pixel once', async () => {
    const pool = new RenderPool(spawn([0]), 2)
    await pool.setScene(MODELS)
    const seen: Tile[] = []
    const progress: number[] = []
    await pool.render(
      request({ preview: true }),
      {
        onPixels: (order, rect) => {
          if (order === 0) seen.push(rect)
        },
        onProgress: ({ done, total }) => progress.push(done / total),
      },
      never,
    )
    const area = FRAME.width * FRAME.height
    const covered = (rects: readonly Tile[]) => {
      const counts = new Uint8Array(area)
      for (const rect of rects)
        for (let y = rect.y; y < rect.y + rect.height; y++)
          for (let x = rect.x; x < rect.x + rect.width; x++) counts[y * FRAME.width + x]++
      return counts
    }
    // Two previews (an eighth and a quarter of the size) and the picture itself: three times every pixel.
    expect(covered(seen).every((n) => n === 3)).toBe(true)
    let firstArea = 0
    const first = seen.filter((rect) => (firstArea += rect.width * rect.height) <= area)
    expect(covered(first).every((n) => n === 1)).toBe(true)
    expect(progress.at(-1)).toBe(1)
    expect([...progress].sort((a, b) => a - b)).toEqual(progress)
  })

  it('ends soon after a cancel, and renders again afterwards', async () => {
    const pool = new RenderPool(spawn([1]), 2)
    await pool.setScene(MODELS)
    const abort = new AbortController()
    let tiles = 0
    const cancelled = pool.render(
      request(),
      {
        onProgress: () => {
          if (++tiles === 2) abort.abort()
        },
      },
      abort.signal,
    )
    await expect(cancelled).rejects.toBeInstanceOf(CancelledError)
    expect(tiles).toBeLessThanOrEqual(4)
    const [again] = await pool.render(request(), {}, never)
    expect(again.rays).toBeGreaterThan(0)
  })

  it('tells what a worker could not do', async () => {
    const pool = new RenderPool(spawn([0]), 1)
    await expect(pool.render(request(), {}, never)).rejects.toThrow('no scene is attached')
    await expect(pool.setScene([sceneModel(cube(), 'x', 'off')])).rejects.toThrow('at least one part')
    await pool.setScene(MODELS)
    const wrong = request({
      orders: [{ kind: 'clay', params: { roughness: -3 }, effort: { samples: 1, rays: 1 } }],
    })
    await expect(pool.render(wrong, {}, never)).rejects.toThrow(/clay\.roughness.*\(got -3\)/)
  })

  it('fails what waits when a worker breaks down, and all that comes after', async () => {
    let breakDown: (reason: string) => void = () => undefined
    const silent: SpawnWorker = (_onMessage: (m: FromWorker) => void, onError) => {
      breakDown = onError
      return { post: () => undefined, close: () => undefined }
    }
    const pool = new RenderPool(silent, 1)
    const waiting = pool.setScene(MODELS)
    breakDown('the worker ran out of memory')
    await expect(waiting).rejects.toThrow('out of memory')
    await expect(pool.setScene(MODELS)).rejects.toThrow('out of memory')
  })
})
