import { describe, expect, it } from 'vitest'
import { CancelledError } from '@/core/errors'
import { paramDefaults } from '@/core/params'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind, type PassKindName } from '@/core/passes/registry'
import type { Tile } from '@/core/passes/tile'
import { DEFAULT_RIG } from '@/core/scene/ready-rigs'
import { ball, fromFront, sceneModel } from '@/core/testing/shapes'
import { RenderPool } from './render-pool'
import type { RenderProgress } from './render-request'
import {
  runRender,
  type PlannedPass,
  type RenderDocument,
  type RenderPlan,
  type RenderTiles,
} from './run-render'
import { inThreadWorkers } from './testing/in-thread-workers'

const FRAME = { width: 96, height: 64 }
const pass = (kind: PassKindName): PlannedPass => ({
  id: `the ${kind}`,
  order: {
    kind,
    params: paramDefaults(passKind(kind).renderSchema),
    effort: { samples: 1, rays: 2 },
  },
})
const PASSES = [pass('depth'), pass('occlusion'), pass('flat'), pass('normal')]
const plan = (changes: Partial<RenderPlan> = {}): RenderPlan => ({
  camera: fromFront(4),
  frame: FRAME,
  rig: DEFAULT_RIG,
  seed: 3,
  preview: false,
  passes: PASSES,
  ...changes,
})
const never = new AbortController().signal

/** A document and a place for tiles that note what is asked of them, in order. */
async function world(asked: RenderPlan, changes: { tiles?: Partial<RenderTiles> } = {}) {
  const pool = new RenderPool(inThreadWorkers([0]), 2)
  await pool.setScene([sceneModel(ball(1.1, 12), 'ball')])
  const told: string[] = []
  const kept = new Map<string, PassResult>()
  const document: RenderDocument = {
    plan: () => Promise.resolve(asked),
    workers: () => Promise.resolve(pool),
    note: ({ id }, name) => {
      told.push(`note ${id} as ${name}`)
      return Promise.resolve()
    },
    settle: () => {
      told.push('settle')
      return Promise.resolve()
    },
  }
  const tiles: RenderTiles = {
    found: (passes) => {
      told.push(`find ${passes.length}`)
      return Promise.resolve(passes.map(() => null))
    },
    settled: () => {
      told.push('blocks kept')
      return Promise.resolve()
    },
    keep: ({ id }, { result }) => {
      told.push(`keep ${id}`)
      kept.set(id, result)
      return Promise.resolve(`file of ${id}`)
    },
    done: (passes) => {
      told.push(`done ${passes.length}`)
      return Promise.resolve()
    },
    ...changes.tiles,
  }
  return { document, tiles, told, kept }
}

describe('runRender', () => {
  it('keeps each pass before it is noted, and settles last', async () => {
    const { document, tiles, told } = await world(plan({ passes: PASSES.slice(0, 2) }))
    await runRender(document, tiles, {}, never)
    expect(told).toEqual([
      'find 2',
      'blocks kept',
      'keep the depth',
      'note the depth as file of the depth',
      'keep the occlusion',
      'note the occlusion as file of the occlusion',
      'done 2',
      'settle',
    ])
  })

  it('gives the same bits in groups as together, whatever memory there is', async () => {
    const together = await world(plan())
    await runRender(together.document, together.tiles, {}, never)
    expect(together.told.filter((t) => t.startsWith('done'))).toEqual(['done 4'])
    const bytes = (id: string) =>
      together.kept.get(id)?.channels.reduce((sum, { byteLength }) => sum + byteLength, 0) ?? 0
    const sizes = PASSES.map(({ id }) => bytes(id))
    for (const bytesTogether of [1, sizes[0] + sizes[1], sizes[1] + sizes[2] + sizes[3]]) {
      const apart = await world(plan({ bytesTogether }))
      await runRender(apart.document, apart.tiles, {}, never)
      const counts = apart.told.filter((t) => t.startsWith('done')).map((t) => Number(t.slice(5)))
      let begin = 0
      for (const count of counts) {
        const own = sizes.slice(begin, begin + count).reduce((a, b) => a + b, 0)
        expect(count === 1 || own <= bytesTogether).toBe(true)
        // One more would have been too many.
        if (begin + count < sizes.length) expect(own + sizes[begin + count]).toBeGreaterThan(bytesTogether)
        begin += count
      }
      expect(begin).toBe(PASSES.length)
      expect(counts.length).toBeGreaterThan(1)
      for (const { id } of PASSES)
        expect(apart.kept.get(id)?.channels).toEqual(together.kept.get(id)?.channels)
    }
  })

  it('counts the progress of groups as one, and never backwards', async () => {
    const { document, tiles } = await world(plan({ bytesTogether: 1 }))
    const seen: RenderProgress[] = []
    await runRender(document, tiles, { onProgress: (progress) => seen.push(progress) }, never)
    const shares = seen.map(({ done, total }) => done / total)
    expect(shares.at(-1)).toBe(1)
    shares.slice(1).forEach((share, i) => expect(share).toBeGreaterThanOrEqual(shares[i]))
    expect(new Set(seen.map(({ total }) => total)).size).toBe(1)
  })

  it('keeps what was done of a render that is cancelled between groups', async () => {
    const abort = new AbortController()
    const { document, tiles, told } = await world(plan({ bytesTogether: 1 }), {
      tiles: {
        done: () => {
          abort.abort()
          return Promise.resolve()
        },
      },
    })
    await expect(runRender(document, tiles, {}, abort.signal)).rejects.toThrow(CancelledError)
    expect(told.filter((t) => t.startsWith('note'))).toEqual(['note the depth as file of the depth'])
    expect(told.at(-1)).toBe('settle')
  })

  it('notes nothing that could not be kept, and says why', async () => {
    const { document, tiles, told } = await world(plan(), {
      tiles: { keep: () => Promise.reject(new Error('the disk is full')) },
    })
    await expect(runRender(document, tiles, {}, never)).rejects.toThrow('the disk is full')
    expect(told.filter((t) => t.startsWith('note'))).toEqual([])
    expect(told.at(-1)).toBe('settle')
  })

  it('tells the finder what is rendered next, and renders no block that is there', async () => {
    const whole = await world(plan({ passes: [pass('depth')] }))
    await runRender(whole.document, whole.tiles, {}, never)
    const result = whole.kept.get('the depth')
    if (!result) throw new Error('depth was not kept')
    const again = await world(plan({ passes: [pass('depth')] }), {
      tiles: {
        found: () =>
          Promise.resolve([
            { result, blocks: new Set([0]), told: {}, tally: { rays: 7, seconds: 0, samples: 0 } },
          ]),
      },
    })
    let pixels = 0
    const onPixels = (_id: string, { width, height }: Tile) => void (pixels += width * height)
    await runRender(again.document, again.tiles, { onPixels }, never)
    expect(pixels).toBe(0)
    expect(again.kept.get('the depth')?.channels).toEqual(result.channels)
  })

  it('asks for no workers where nothing is planned', async () => {
    const { document, tiles, told } = await world(plan({ passes: [] }))
    const idle = { ...document, workers: () => Promise.reject(new Error('a scene was built for nothing')) }
    await runRender(idle, tiles, {}, never)
    expect(told).toEqual([])
  })

  it('renders nothing where the plan cannot be made', async () => {
    const { document, tiles, told } = await world(plan())
    const broken = { ...document, plan: () => Promise.reject(new Error('bring in a model')) }
    await expect(runRender(broken, tiles, {}, never)).rejects.toThrow('bring in a model')
    expect(told).toEqual([])
  })
})
