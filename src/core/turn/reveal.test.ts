import { describe, expect, it } from 'vitest'
import { decodeChannel } from '../picture/channel'
import { surfaceCoverage } from '../passes/pass-result'
import { evenFill, newMask, newTerm, passOf } from '../sheet/new-layer'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { composed, testLayer, testResources, testSheet } from '../sheet/testing/sheets'
import { ball, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { frameSheet, seenOf } from './frame-sheet'
import { revealed, revealedShare, sweepEdge, sweepShareAt } from './reveal'
import { newTurn, revealSchema, type Reveal } from './turn-schema'

const SIZE = { width: 120, height: 80 }
const reveal = (rest: Partial<Reveal> = {}): Reveal =>
  revealSchema.parse({
    id: 'r',
    layerId: 'ink',
    kind: 'fade',
    from: 10,
    whole: 30,
    goes: null,
    gone: null,
    ease: 'even',
    angleDeg: 0,
    softness: 0,
    centre: [0.5, 0.5],
    parts: [],
    ...rest,
  })

const models = ['left', 'right'].map((name, i) => {
  const model = sceneModel(ball(0.5, 16), name)
  return { ...model, transforms: [[1, 0, 0, 1.2 * i - 0.6, 0, 1, 0, 0, 0, 0, 1, 0.8 * i]] }
})
const passes = new Map(
  (['id', 'depth', 'contour'] as const).map((kind) => [
    kind as string,
    renderPass(kind, models, fromFront(4), SIZE).result,
  ]),
)
const resources = testResources(
  {},
  { pass: (id) => passes.get(id) ?? null, shotPass: (_, kind) => passes.get(kind) ?? null },
)
const ink = (rest: Partial<SheetNode> = {}) => testLayer('ink', { content: evenFill('#000000'), ...rest })
const sheetOf = (rest: Partial<SheetNode> = {}): Sheet => testSheet(SIZE, [ink(rest)], { shotId: 'shot' })
/** How much of each pixel the layer covers. */
const alphas = (sheet: Sheet): Float32Array => composed(sheet, resources).filter((_, i) => i % 4 === 3)
const at = (own: Reveal, frame: number, rest: Partial<SheetNode> = {}) =>
  alphas(revealed(sheetOf(rest), own, frame))
const mean = (values: Float32Array) => values.reduce((sum, v) => sum + v, 0) / values.length

describe('how much a reveal shows', () => {
  it('is nothing up to its beginning, all from when it is whole, and nothing again when it is gone', () => {
    const own = reveal({ goes: 50, gone: 60 })
    expect([0, 10, 15, 20, 30, 49, 50, 55, 60, 99].map((frame) => revealedShare(own, frame))).toEqual([
      0, 0, 0.25, 0.5, 1, 1, 1, 0.5, 0, 0,
    ])
  })
  it('is there at once where it takes no time', () => {
    const own = reveal({ from: 10, whole: 10, goes: 20, gone: 20 })
    expect([9, 10, 19, 20].map((frame) => revealedShare(own, frame))).toEqual([0, 1, 1, 0])
  })
  it('is refused where it goes before it has come', () => {
    expect(revealSchema.safeParse({ ...reveal(), whole: 5 }).success).toBe(false)
    expect(revealSchema.safeParse({ ...reveal(), goes: 20, gone: 40 }).success).toBe(false)
    expect(revealSchema.safeParse({ ...reveal(), goes: 40, gone: null }).success).toBe(false)
  })
})

describe('a revealed layer', () => {
  const kinds = ['fade', 'sweep', 'iris', 'depth', 'height', 'parts', 'drawn'] as const
  it('is hidden before, and the very sheet after', () => {
    const sheet = sheetOf()
    for (const kind of kinds) {
      expect(revealed(sheet, reveal({ kind, parts: ['left', 'right'] }), 0).nodes.ink.visible).toBe(false)
      expect(revealed(sheet, reveal({ kind, parts: ['left', 'right'] }), 30)).toBe(sheet)
    }
    expect(revealed(sheet, reveal({ layerId: 'gone' }), 20)).toBe(sheet)
  })
  it('is seen the more of the later it is, pixel by pixel', () => {
    for (const kind of kinds) {
      const own = reveal({ kind, parts: ['left', 'right'], softness: 0.1, angleDeg: 30 })
      let before: Float32Array = new Float32Array(SIZE.width * SIZE.height)
      for (let frame = 11; frame < 30; frame++) {
        const now = at(own, frame)
        expect(Math.max(...before.map((v, i) => v - now[i]))).toBeLessThan(0.006)
        before = now
      }
      // What lies behind or above all of the subject comes last by depth or height.
      expect(mean(before)).toBeGreaterThan(kind === 'depth' || kind === 'height' ? 0.4 : 0.8)
    }
  })
  it('fades', () => {
    at(reveal(), 15, { opacity: 0.8 }).forEach((v) => expect(v).toBeCloseTo(0.2, 2))
  })
  it('is swept over by a straight edge that goes its way', () => {
    const right = at(reveal({ kind: 'sweep', angleDeg: 0 }), 20)
    const down = at(reveal({ kind: 'sweep', angleDeg: 90 }), 15)
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) {
        if (Math.abs(x + 0.5 - 60) > 2) expect(right[y * SIZE.width + x]).toBe(x < 60 ? 1 : 0)
        if (Math.abs(y + 0.5 - 20) > 2) expect(down[y * SIZE.width + x]).toBe(y < 20 ? 1 : 0)
      }
    // Its soft part comes in and leaves with it.
    const soft = reveal({ kind: 'sweep', softness: 0.5 })
    expect(mean(at(soft, 10.0001))).toBeLessThan(0.001)
    expect(mean(at(soft, 29.9999))).toBeGreaterThan(0.999)
    expect(mean(at(soft, 20))).toBeCloseTo(0.5, 2)
  })
  it('has the line of its edge where half of it is seen', () => {
    const own = reveal({ kind: 'sweep', angleDeg: 50, softness: 0.2 })
    for (const frame of [16, 20, 25]) {
      const [x0, y0, x1, y1] = sweepEdge(SIZE, own, revealedShare(own, frame))
      const seen = at(own, frame)
      for (let k = 1; k < 400; k++) {
        const [x, y] = [(x0 + ((x1 - x0) * k) / 400) * SIZE.width, (y0 + ((y1 - y0) * k) / 400) * SIZE.height]
        if (x < 1 || y < 1 || x >= SIZE.width - 1 || y >= SIZE.height - 1) continue
        expect(Math.abs(seen[Math.floor(y) * SIZE.width + Math.floor(x)] - 0.5)).toBeLessThan(0.05)
      }
    }
  })
  it('opens from the middle that it was given', () => {
    const seen = at(reveal({ kind: 'iris', centre: [0.25, 0.5] }), 15)
    const far = Math.hypot(90, 40)
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) {
        const away = Math.hypot(x + 0.5 - 30, y + 0.5 - 40) - far / 4
        if (Math.abs(away) > 1.5) expect(seen[y * SIZE.width + x]).toBe(away < 0 ? 1 : 0)
      }
  })
  it('comes from the foot up', () => {
    const own = reveal({ kind: 'height', from: 0, whole: 100, softness: 0 })
    const { channels } = passes.get('depth') ?? { channels: [] }
    const alpha = new Float32Array(SIZE.width * SIZE.height)
    decodeChannel({ name: 'A', format: 'half', data: channels[1] }, 0, alpha.length, alpha)
    // Of balls that are seen from the front, what is as high lies in one row.
    for (const frame of [30, 45, 60]) {
      const seen = at(own, frame)
      const rows = Array.from({ length: SIZE.height }, (_, y) => {
        const inside = [...seen.subarray(y * SIZE.width, (y + 1) * SIZE.width)].filter(
          (_v, x) => alpha[y * SIZE.width + x] === 1,
        )
        return inside.length === 0 ? null : inside.reduce((sum, v) => sum + v, 0) / inside.length
      })
      const first = rows.findIndex((share) => share !== null && share > 0.5)
      expect(first).toBeGreaterThan(0)
      rows.forEach((share, y) => {
        if (share !== null && Math.abs(y - first) > 2) expect(share).toBeCloseTo(y < first ? 0 : 1, 1)
      })
    }
  })
  it('comes from the front to the back', () => {
    const own = reveal({ kind: 'depth', from: 0, whole: 100 })
    const id = passes.get('id')
    if (!id) throw new Error('there is no ID pass')
    const of = (part: string) =>
      surfaceCoverage(
        id,
        Uint8Array.from(id.surfaces, (surface) => Number(surface.part === part)),
      )
    const shareOf = (part: string, frame: number) => {
      const [cover, seen] = [of(part), at(own, frame)]
      let [sum, all] = [0, 0]
      cover.forEach((v, i) => {
        if (v < 1) return
        all++
        sum += seen[i]
      })
      return sum / all
    }
    // The right one is nearer.
    expect(shareOf('right', 40)).toBeGreaterThan(0.9)
    expect(shareOf('left', 40)).toBeLessThan(0.1)
    expect(shareOf('left', 90)).toBeGreaterThan(0.99)
  })
  it('comes part by part in their order, exact to the edge', () => {
    const id = passes.get('id')
    if (!id) throw new Error('there is no ID pass')
    const cover = ['left', 'right'].map((part) =>
      surfaceCoverage(
        id,
        Uint8Array.from(id.surfaces, (surface) => Number(surface.part === part)),
      ),
    )
    const own = reveal({ kind: 'parts', parts: ['right', 'left'], from: 0, whole: 4 })
    for (const [frame, right, left] of [
      [1, 0.5, 0],
      [2, 1, 0],
      [3, 1, 0.5],
    ]) {
      const seen = at(own, frame)
      // What is no part of the list is there from the first.
      seen.forEach((v, i) => {
        const wanted = (1 - cover[0][i] * (1 - left)) * (1 - cover[1][i] * (1 - right))
        expect(Math.abs(v - wanted)).toBeLessThan(0.01)
      })
    }
  })
  it('keeps the mask it has, upright or inverted', () => {
    for (const invert of [false, true]) {
      const mask = { ...newMask(), invert, terms: [newTerm('parts', { keys: ['left'] })] }
      const whole = alphas(sheetOf({ mask }))
      const seen = at(reveal({ kind: 'sweep' }), 20, { mask })
      seen.forEach((v, i) => {
        const x = i % SIZE.width
        if (Math.abs(x + 0.5 - 60) > 2) expect(Math.abs(v - (x < 60 ? whole[i] : 0))).toBeLessThan(0.006)
      })
    }
  })
  it('draws its lines along themselves', () => {
    const node = testLayer('ink', { content: passOf('contour', {}) })
    const sheet = testSheet(SIZE, [node], { shotId: 'shot' })
    const amount = (frame: number) => mean(alphas(revealed(sheet, reveal({ kind: 'drawn' }), frame)))
    const whole = mean(alphas(sheet))
    expect(amount(20) / whole).toBeGreaterThan(0.4)
    expect(amount(20) / whole).toBeLessThan(0.6)
    expect(amount(15)).toBeLessThan(amount(20))
  })
})

describe('a sheet in a frame', () => {
  it('has its tracks and its reveals, and keeps what neither touches', () => {
    const sheet = testSheet(SIZE, [ink(), testLayer('b', { content: evenFill('#ff0000') })])
    const turn = {
      ...newTurn('t', 't', 'sheet'),
      reveals: [reveal()],
      tracks: [
        {
          path: ['nodes', 'ink', 'opacity'],
          keys: [
            { at: 0, value: 0, ease: 'even' as const },
            { at: 40, value: 1, ease: 'even' as const },
          ],
        },
      ],
    }
    const now = frameSheet(sheet, turn, 20)
    expect(now.nodes.ink.opacity).toBeCloseTo(0.5 * 0.5, 9)
    expect(now.nodes.b).toBe(sheet.nodes.b)
  })
  it('shows a layer that the still hides as far as its reveals are', () => {
    const sheet = testSheet(SIZE, [ink({ visible: false, opacity: 0.8 })])
    const one = reveal({ from: 10, whole: 20 })
    const turn = {
      ...newTurn('t', 't', 'sheet'),
      reveals: [one, reveal({ id: 'later', from: 15, whole: 25 })],
    }
    const now = (frame: number) => frameSheet(sheet, turn, frame).nodes.ink
    expect(now(5).visible).toBe(false)
    // The first has come, the second has not begun.
    expect(now(15).visible).toBe(false)
    expect(now(20)).toMatchObject({ visible: true, opacity: 0.8 * 0.5 })
    expect(now(30)).toMatchObject({ visible: true, opacity: 0.8 })
    expect(sheet.nodes.ink.visible).toBe(false)
  })
  it('is made of what is seen of it, and of what that looks at', () => {
    const layers = [
      testLayer('masked', {
        content: evenFill('#ff0000'),
        mask: { ...newMask(), terms: [newTerm('layerAlpha', { layer: 'stencil' })] },
      }),
      testLayer('stencil', { content: passOf('id', {}), visible: false }),
      testLayer('hidden', { content: passOf('contour', {}), visible: false }),
      testLayer('clear', { content: passOf('depth', {}), opacity: 0 }),
    ]
    expect(Object.keys(seenOf(testSheet(SIZE, layers)).nodes).sort()).toEqual(['masked', 'stencil'])
  })
})

describe('the edge of a sweep on the picture', () => {
  it.each([-170, -13, 0, 40, 90])('is where it was put, at %i degrees', (angleDeg) => {
    const own = reveal({ kind: 'sweep', angleDeg, softness: 0.1 })
    for (const share of [0.1, 0.37, 0.5, 0.92]) {
      const [x1, y1, x2, y2] = sweepEdge(SIZE, own, share)
      for (const along of [0.2, 0.5, 0.7])
        expect(sweepShareAt(SIZE, own, x1 + (x2 - x1) * along, y1 + (y2 - y1) * along)).toBeCloseTo(share, 9)
    }
  })
})
