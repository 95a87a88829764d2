// One file: one pool of workers, used, cancelled and broken in every way.
import { DEFAULT_RIG, fromReadyRig, READY_RIGS } from '@/core/scene/ready-rigs'
import { describe, expect, it } from 'vitest'
import { CancelledError } from '@/core/errors'
import type { PassResult } from '@/core/passes/pass-result'
import type { Tile } from '@/core/passes/tile'
import { LINE_KINDS } from '@/core/lines/line-kinds'
import { drawPass } from '@/core/passes/render-tile'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { showsMaterial } from '@/core/passes/material-touches'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { paramDefaults } from '@/core/params'
import { ball, cube, fromFront, sceneModel } from '@/core/testing/shapes'
import type { SpawnWorker } from '@/core/workers/worker-channel'
import type { FromWorker } from './messages'
import { RenderPool } from './render-pool'
import type { RenderRequest } from './render-request'
import { inThreadWorkers as spawn } from './testing/in-thread-workers'

const FRAME = { width: 160, height: 128 }
const MODELS = [sceneModel(cube(0.8), 'block'), sceneModel(ball(1.1, 12), 'ball')]
const request = (changes: Partial<RenderRequest> = {}): RenderRequest => ({
  camera: fromFront(4),
  frame: FRAME,
  rig: DEFAULT_RIG,
  orders: PASS_KINDS.map((kind) => ({
    kind,
    params: paramDefaults(passKind(kind).renderSchema),
    effort: { samples: 1, rays: 2 },
  })),
  seed: 7,
  preview: false,
  ...changes,
})
const never = new AbortController().signal
const bytesOf = (result: PassResult) => result.channels.map((c) => Buffer.from(c.buffer as ArrayBuffer))

describe('RenderPool', () => {
  it('keeps on surfaces what turns, with the same bits on any number of workers and in any order of poses', async () => {
    const orders = [
      { kind: 'occlusion' as const, params: {}, effort: { samples: 4, rays: 8 } },
      { kind: 'clay' as const, params: {}, effort: { samples: 4, rays: 8 } },
    ]
    const cameras = [0, 1, 2, 3].map((i) => ({
      ...fromFront(4),
      eye: [4 * Math.sin(i), 1, 4 * Math.cos(i)] as [number, number, number],
    }))
    const turning = { cameras, lightsStay: false, spacingPx: 1, orders }
    const poseOf = async (pool: RenderPool, i: number) =>
      (await pool.render(request({ camera: cameras[i], orders, turning }), {}, never)).map(({ result }) =>
        bytesOf(result),
      )
    const [one, two] = [new RenderPool(spawn([0]), 1), new RenderPool(spawn([0]), 2)]
    await one.setScene(MODELS)
    await two.setScene(MODELS)
    const alone = await poseOf(one, 2)
    for (const i of [3, 0]) await poseOf(two, i)
    expect(await poseOf(two, 2)).toEqual(alone)
    // It is not what rays find: texels have rays of their own.
    const traced = await one.render(request({ camera: cameras[2], orders }), {}, never)
    expect(traced.map(({ result }) => bytesOf(result))).not.toEqual(alone)
    // What is not kept is what a still shows, though the tiles of a turntable are larger.
    const plain = (['depth', 'normal', 'id', 'flat'] as const).map((kind) => ({
      kind,
      params: paramDefaults(passKind(kind).renderSchema),
      effort: { samples: 8, rays: kind === 'id' ? 4 : 0 },
    }))
    const still = await one.render(request({ camera: cameras[2], orders: plain }), {}, never)
    const turned = await one.render(request({ camera: cameras[2], orders: plain, turning }), {}, never)
    expect(turned.map(({ result }) => bytesOf(result))).toEqual(still.map(({ result }) => bytesOf(result)))
  })
  it('lights each pass of a job by its own rig, as if it were alone', async () => {
    const pool = new RenderPool(spawn([0]), 2)
    await pool.setScene(MODELS)
    const clay = {
      kind: 'clay' as const,
      params: paramDefaults(passKind('clay').renderSchema),
      effort: { samples: 2, rays: 4 },
    }
    const other = fromReadyRig(READY_RIGS[2], () => `${Math.random()}`)
    const both = await pool.render(request({ orders: [clay, { ...clay, rig: other }] }), {}, never)
    const [first] = await pool.render(request({ orders: [clay] }), {}, never)
    const [second] = await pool.render(request({ orders: [clay], rig: other }), {}, never)
    expect(both[0].result.channels).toEqual(first.result.channels)
    expect(both[1].result.channels).toEqual(second.result.channels)
    expect(both[1].result.lights.map(({ name }) => name)).toEqual(
      other.lights.filter((l) => l.on).map((l) => l.name),
    )
    expect(first.result.channels).not.toEqual(second.result.channels)
  })

  it('renders a pass in a window of its own, with the bits that it has there in the whole picture', async () => {
    const pool = new RenderPool(spawn([0]), 2)
    await pool.setScene(MODELS)
    expect([...pool.partBoxes.subarray(0, 6)].map((v) => Math.round(v * 10) / 10)).toEqual([
      -0.8, -0.8, -0.8, 0.8, 0.8, 0.8,
    ])
    const orders = request().orders.filter(({ kind }) => ['clay', 'id', 'depth'].includes(kind))
    const window = { x: 32, y: 64, width: 96, height: 64 }
    const whole = await pool.render(request({ orders }), {}, never)
    const asked: Tile[] = []
    const cut = await pool.render(
      request({ orders, windows: [window, null, window] }),
      { onPixels: (order, tile) => void (order === 0 && asked.push(tile)) },
      never,
    )
    expect(cut.map(({ result: { width, height } }) => [width, height])).toEqual([
      [96, 64],
      [160, 128],
      [96, 64],
    ])
    expect(cut[1].result.channels).toEqual(whole[1].result.channels)
    for (const i of [0, 2])
      cut[i].result.channels.forEach((channel, c) => {
        for (let y = 0; y < window.height; y++) {
          const row = (64 + y) * 160 + 32
          expect(channel.subarray(96 * y, 96 * (y + 1))).toEqual(
            whole[i].result.channels[c].subarray(row, row + 96),
          )
        }
      })
    expect(asked).toHaveLength(6)
    expect(cut[0].rays).toBeLessThan(whole[0].rays)
  })

  it('tells each worker a job once, however many tiles it has', async () => {
    const posted: string[] = []
    const counted: SpawnWorker = (onMessage, onError) => {
      const port = spawn([0])(onMessage, onError)
      const post = (message: unknown) => {
        posted.push((message as { type: string }).type)
        port.post(message)
      }
      return { ...port, post }
    }
    const pool = new RenderPool(counted, 2)
    await pool.setScene(MODELS)
    await pool.render(request(), {}, never)
    expect(posted.filter((type) => type === 'job')).toHaveLength(2)
    expect(posted.filter((type) => type === 'tile').length).toBe((FRAME.width * FRAME.height) / 1024)
  })

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

  it('takes the tiles of a region first, also one that is drawn while it renders', async () => {
    const frame = { width: 256, height: 256 }
    // The last to be rendered otherwise.
    const corner = { x: 216, y: 216, width: 40, height: 40 }
    const isIn = ({ x, y }: Tile) => x >= 192 && y >= 192
    const pool = new RenderPool(spawn([0]), 1)
    await pool.setScene(MODELS)
    const orders = request().orders.filter((order) => order.kind === 'depth')
    const seen: Tile[] = []
    await pool.render(
      request({ frame, orders, first: corner }),
      { onPixels: (_o, rect) => seen.push(rect) },
      never,
    )
    expect(seen.slice(0, 4).every(isIn)).toBe(true)
    expect(seen.slice(4).some(isIn)).toBe(false)
    const later: Tile[] = []
    await pool.render(
      request({ frame, orders }),
      {
        onPixels: (_o, rect) => {
          later.push(rect)
          if (later.length === 3) pool.renderFirst(corner)
        },
      },
      never,
    )
    expect(later.slice(3, 8).filter(isIn)).toHaveLength(4)
  })

  it('goes on from finished blocks: the same bits and counts, without rendering them again', async () => {
    const frame = { width: 256, height: 128 }
    const pool = new RenderPool(spawn([0]), 2)
    await pool.setScene(MODELS)
    const whole = await pool.render(request({ frame }), {}, never)
    const abort = new AbortController()
    let kept: RenderRequest['kept']
    const cut = pool.render(
      request({ frame }),
      {
        onBlock: (block, _rect, results, told, tallies) => {
          // The first alone.
          kept ??= results.map((result, i) => ({
            result: { ...result, channels: result.channels.map((c) => c.slice()) },
            blocks: new Set([block]),
            told: structuredClone(told[i]),
            tally: { ...tallies[i] },
          }))
          abort.abort()
        },
      },
      abort.signal,
    )
    await expect(cut).rejects.toBeInstanceOf(CancelledError)
    expect(kept).toHaveLength(PASS_KINDS.length)
    const rendered = new Set<string>()
    const rest = await pool.render(
      request({ frame, kept }),
      { onPixels: (_o, { x, y }) => rendered.add(`${x},${y}`) },
      never,
    )
    // Of two blocks of 128 × 128 one was there; lines came once more, over the whole picture.
    expect(rendered.size).toBe(16 + 1)
    whole.forEach(({ result }, i) =>
      bytesOf(result).forEach((bytes, c) => expect(bytes.equals(bytesOf(rest[i].result)[c])).toBe(true)),
    )
    expect(rest[0].samples).toBe(whole[0].samples)
  })

  it('renders only tiles that show a changed material, with the bits of a whole render', async () => {
    const frame = { width: 160, height: 96 }
    const coloured = (colour: [number, number, number]) => [
      { ...MODELS[0], materials: [{ ...MODELS[0].materials[0], baseColour: colour }] },
      MODELS[1],
    ]
    const orders = request().orders.filter((order) => order.kind === 'lit')
    const pool = new RenderPool(spawn([0]), 1)
    await pool.setScene(coloured([0.2, 0.2, 0.2]))
    const [before] = await pool.render(request({ frame, orders }), {}, never)
    await pool.setScene(coloured([0.9, 0.1, 0.1]))
    const [full] = await pool.render(request({ frame, orders }), {}, never)
    const rendered: Tile[] = []
    const [partly] = await pool.render(
      request({
        frame,
        orders,
        kept: [
          {
            result: before.result,
            blocks: new Set(),
            tiles: showsMaterial(before.result.facts, [0]),
            told: structuredClone(before.result.facts),
            tally: { rays: 0, seconds: 0, samples: 0 },
          },
        ],
      }),
      { onPixels: (_o, rect) => rendered.push(rect) },
      never,
    )
    expect(rendered.length).toBeGreaterThan(0)
    expect(rendered.length).toBeLessThan(15)
    bytesOf(full.result).forEach((bytes, c) => expect(bytes.equals(bytesOf(partly.result)[c])).toBe(true))
  })

  it('smooths noise where asked, and only there', async () => {
    const orders = request().orders.filter((order) => order.kind === 'occlusion')
    const pool = new RenderPool(spawn([0, 2]), 2)
    await pool.setScene(MODELS)
    const rough = await pool.render(request({ orders }), {}, never)
    const smooth = await pool.render(
      request({ orders: orders.map((order) => ({ ...order, denoise: true })) }),
      {},
      never,
    )
    const [v, a] = [0, 4].map((c) => bytesOf(smooth[0].result)[c].equals(bytesOf(rough[0].result)[c]))
    expect(v).toBe(false)
    expect(a).toBe(true)
  })

  it('tells what a worker could not do', async () => {
    const pool = new RenderPool(spawn([0]), 1)
    await expect(pool.render(request(), {}, never)).rejects.toThrow('no scene is attached')
    await expect(pool.setScene([sceneModel(cube(), 'x', 'off')])).rejects.toThrow('a part with an area')
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

describe('the lines of a pass', () => {
  const lines = {
    camera: fromFront(4),
    frame: FRAME,
    rig: DEFAULT_RIG,
    order: { kind: 'contour', params: {}, effort: { samples: 1, rays: 0 } },
  } as const
  it('come with the pass, the same from every worker, beside its tiles', async () => {
    const pool = new RenderPool(spawn([0]), 2)
    await pool.setScene(MODELS)
    const whole: Tile[] = []
    const rendered = await pool.render(
      request(),
      { onPixels: (order, rect) => void (PASS_KINDS[order] === 'contour' && whole.push(rect)) },
      never,
    )
    const contour = rendered[PASS_KINDS.indexOf('contour')]
    const wires = rendered[PASS_KINDS.indexOf('wireframe')].result
    expect(whole).toEqual([{ x: 0, y: 0, ...FRAME }])
    expect(contour.rays).toBeGreaterThan(100)
    expect(contour.result.channels).toEqual([])
    expect(wires.channels[0].length).toBe(FRAME.width * FRAME.height)
    const alone = await pool.draw(lines, never)
    expect(contour.result.drawing).toEqual(alone.drawing)
    expect(wires.drawing?.count).toBeGreaterThan(alone.drawing.count)
  })
  it('are all there is of a job without channels, with progress and no tiles', async () => {
    const pool = new RenderPool(spawn([0]), 1)
    await pool.setScene(MODELS)
    const shares: number[] = []
    const tiles: number[] = []
    const [contour] = await pool.render(
      { ...request(), orders: [lines.order] },
      {
        onProgress: ({ done, total }) => shares.push(done / total),
        onBlock: (block) => void tiles.push(block),
      },
      never,
    )
    expect(tiles).toEqual([])
    expect(shares[0]).toBe(0)
    expect(shares.at(-1)).toBe(1)
    expect(contour.result.drawing?.count).toBeGreaterThan(0)
    expect(contour.result.facts.toLight).toHaveLength(3)
    expect(contour.result.facts.lines).toBe(contour.result.drawing?.count)
  })
  it('are the same on any number of workers, and as found in one go', async () => {
    const order = { ...lines.order, params: { suggestive: true, shadow: true } }
    const found = await Promise.all(
      [1, 2, 3].map(async (workers) => {
        const pool = new RenderPool(spawn([0, 7]), workers)
        await pool.setScene(MODELS)
        return (await pool.draw({ ...lines, order }, never)).drawing
      }),
    )
    expect(found[1]).toEqual(found[0])
    expect(found[2]).toEqual(found[0])
    const whole = drawPass(buildSceneGeometry(MODELS), lines, order, null).drawing
    expect(found[0]).toEqual(whole)
    expect(new Set(whole.kinds)).toContain(LINE_KINDS.indexOf('shadow'))
  })
  it('can be cancelled at once, and asked for again', async () => {
    const pool = new RenderPool(spawn([5]), 1)
    await pool.setScene(MODELS)
    const abort = new AbortController()
    const asked = pool.draw(lines, abort.signal)
    abort.abort()
    await expect(asked).rejects.toBeInstanceOf(CancelledError)
    expect((await pool.draw(lines, never)).drawing.count).toBeGreaterThan(0)
  })
  it('are refused with a setting that means nothing', async () => {
    const pool = new RenderPool(spawn([0]), 1)
    await pool.setScene(MODELS)
    const bad = { ...lines, order: { ...lines.order, params: { creaseDeg: 500 } } }
    await expect(pool.draw(bad, never)).rejects.toThrow(/creaseDeg/)
  })
})
