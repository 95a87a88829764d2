import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { inBlocks, MASK_TILE_BYTES, TILE, TILE_PIXELS } from '../picture/tile-form'
import { EMPTY, KeptTiles, type KeptTile } from '../sheet/evaluate/kept-tiles'
import { BRUSH_DEFAULTS, type BrushParams } from './brush'
import { BrushMemory } from './brush-memory'
import { readPlace } from './paint-grid'
import { StrokePainter, type StrokeAct, type StrokeGround } from './stroke-painter'
import type { PenSample } from './stroke-walker'
import { TIPS } from './tips/registry'

const SIZE = { width: 400, height: 300 }
const NOTHING: KeptTile = { address: 0, flags: EMPTY }
const RED: StrokeAct = { kind: 'paint', rgb: [0.8, 0.2, 0.1] }

interface Painted {
  /** Straight RGBA, or a value in the first channel of a mask. */
  readonly at: (x: number, y: number) => readonly number[]
  readonly places: readonly string[]
}

/** A stroke over a clear ground. */
function painted(
  params: Partial<BrushParams>,
  samples: readonly PenSample[],
  {
    act = RED,
    tip = 'hardRound',
    chunk = 3,
    ground = {} as Partial<StrokeGround>,
    tiles = new KeptTiles(),
  } = {},
): Painted {
  const brush = {
    tip,
    seed: 1,
    params: { ...BRUSH_DEFAULTS, steady: 0, leastSize: 1, leastFlow: 1, ...params },
  }
  const stroke = new StrokePainter(
    tiles,
    new BrushMemory(tiles),
    brush,
    act,
    {
      ...{ grid: { ...SIZE, tiles: {} }, outside: 1, base: () => NOTHING, within: null, scale: 1 },
      mirrors: { x: null, y: null },
      ...ground,
    },
    5,
  )
  for (let i = 0; i < samples.length; i += chunk) stroke.add(samples.slice(i, i + chunk))
  stroke.finish(null)
  const results = new Map([...stroke.results()].map(({ place, bytes }) => [place, bytes]))
  stroke.close()
  return {
    places: [...results.keys()],
    at: (x, y) => {
      const bytes = results.get(`${Math.floor(x / TILE)},${Math.floor(y / TILE)}`)
      if (!bytes) return [0, 0, 0, 0]
      const words = new Uint16Array(bytes.buffer)
      const p = (y % TILE) * TILE + (x % TILE)
      if (act.kind === 'mask') return [words[p] / 65535]
      return [0, 1, 2, 3].map((c) => words[inBlocks(p, c)] / 65535)
    },
  }
}
const pen = (x: number, y: number, i = 0): PenSample => ({
  ...{ x, y, pressure: 1, tiltX: 0, tiltY: 0, twist: 0, at: 8 * i },
})
const random = seededRandom(3)
const scribble = Array.from({ length: 60 }, (_, i) => pen(400 * random(), 300 * random(), i))

describe('a stroke that takes up colour', () => {
  /** The left half of the first tile is blue paint. */
  const tiles = new KeptTiles()
  const blue = tiles.take(8 * TILE_PIXELS)
  const words = new Uint16Array(tiles.memory.buffer, blue, 4 * TILE_PIXELS)
  for (let p = 0; p < TILE_PIXELS; p++)
    if (p % TILE < TILE / 2) {
      words[inBlocks(p, 2)] = 65535
      words[inBlocks(p, 3)] = 65535
    }
  const ground = {
    base: (tx: number, ty: number) => (tx + ty === 0 ? { address: blue, flags: 0 } : NOTHING),
  }
  const across = Array.from({ length: 60 }, (_, i) => pen(4 + 4 * i, 60, i))
  const drawn = (takesUp: number) =>
    painted({ size: 20, flow: 1, whole: 1, takesUp }, across, { ground, tiles })

  it('carries it on beyond where it was, less and less', () => {
    const { at } = drawn(0.8)
    const bluer = [70, 110, 200].map((x) => at(x, 60)[2])
    expect(bluer[0]).toBeGreaterThan(0.5)
    expect(bluer[0]).toBeGreaterThan(bluer[1])
    expect(bluer[1]).toBeGreaterThan(bluer[2])
    expect(at(70, 60)[3]).toBe(1)
  })
  it('lays its own colour alone where it takes up none', () => {
    expect(drawn(0).at(70, 60)[2]).toBeCloseTo(0.1, 4)
  })
})

describe('a stroke that clones', () => {
  it('lays what its source shows, as opaque as that is', () => {
    const tiles = new KeptTiles()
    const source = tiles.take(16 * TILE_PIXELS)
    const blocks = tiles.floats(source, 4 * TILE_PIXELS)
    // Half opaque green, premultiplied, in the left half.
    for (let p = 0; p < TILE_PIXELS; p++)
      for (let c = 0; c < 4; c++) blocks[inBlocks(p, c)] = p % TILE < 64 ? [0, 0.5, 0, 0.5][c] : 0
    const { at } = painted({ size: 60, flow: 1, whole: 1 }, [pen(64, 64)], {
      act: { kind: 'clone' },
      ground: { source: () => source },
      tiles,
    })
    expect(at(50, 64)[3]).toBeCloseTo(0.5, 4)
    expect(at(50, 64)[1]).toBeCloseTo(1, 4)
    expect(at(80, 64)[3]).toBe(0)
    expect(at(5, 5)[3]).toBe(0)
  })
})

describe('a stroke', () => {
  it('covers a disc by its area, in its colour', () => {
    const { at, places } = painted({ size: 61, flow: 1, whole: 1 }, [pen(128, 128)])
    expect([...places].sort()).toEqual(['0,0', '0,1', '1,0', '1,1'])
    let area = 0
    for (let y = 80; y < 176; y++) for (let x = 80; x < 176; x++) area += at(x, y)[3]
    expect(Math.abs(area - Math.PI * (0.97 * 30.5) ** 2)).toBeLessThan(30)
    expect(at(128, 128)).toEqual([0.8, 0.2, 0.1, 1].map((v) => Math.round(65535 * v) / 65535))
    expect(at(100, 100)[3]).toBe(0)
  })

  it('changes no tile that it only comes near', () => {
    // Turned, a square reaches farther than it covers: the corners of its bounds lie in other tiles.
    const { places } = painted({ size: 100, angleDeg: 45, roundness: 0.3 }, [pen(64, 64)])
    expect(places).toEqual(['0,0'])
    const tiles = new KeptTiles()
    // What lies in memory that was given back.
    const used = Array.from({ length: 40 }, () => tiles.take(8 * TILE_PIXELS))
    for (const address of used) tiles.bytes(address, 8 * TILE_PIXELS).fill(77)
    for (const address of used) tiles.giveBack(address, 8 * TILE_PIXELS)
    const clean = painted({ size: 100, angleDeg: 45, roundness: 0.3 }, [pen(64, 64)], { tiles })
    for (let y = 0; y < 300; y += 5) for (let x = 128; x < 400; x += 5) expect(clean.at(x, y)[3]).toBe(0)
  })

  it('is the same on both sides of a border between tiles', () => {
    // The same press in the middle of a tile and over a corner of four.
    const [inner, across] = [
      painted({ size: 50 }, [pen(64.3, 64.7)]),
      painted({ size: 50 }, [pen(128.3, 128.7)]),
    ]
    for (let y = 30; y < 100; y++)
      for (let x = 30; x < 100; x++) {
        const [a, b] = [across.at(x + 64, y + 64), inner.at(x, y)]
        for (let c = 0; c < 4; c++) {
          const own = (rgba: readonly number[]) => (c === 3 ? rgba[3] : rgba[c] * rgba[3])
          expect(Math.abs(own(a) - own(b))).toBeLessThan(1e-4)
        }
      }
  })

  it('never covers more than the whole stroke may, however often it crosses itself', () => {
    for (const { kind } of TIPS) {
      const { at } = painted({ size: 90, whole: 0.4, flow: 1, spacing: 0.1 }, scribble, { tip: kind })
      let most = 0
      for (let y = 0; y < SIZE.height; y += 3)
        for (let x = 0; x < SIZE.width; x += 3) most = Math.max(most, at(x, y)[3])
      expect(most, kind).toBeLessThanOrEqual(0.4 + 1e-4)
      expect(most, kind).toBeGreaterThan(0.1)
    }
  })

  it('gathers by its flow where it passes again', () => {
    const brush = { size: 60, flow: 0.2, whole: 1, spacing: 0.5 }
    expect(painted(brush, [pen(60, 60)]).at(60, 60)[3]).toBeCloseTo(0.2, 3)
    const there = painted(brush, [pen(20, 60), pen(200, 60)])
    const back = painted(brush, [pen(20, 60), pen(200, 60), pen(20, 60)])
    expect(back.at(80, 60)[3]).toBeGreaterThan(1.4 * there.at(80, 60)[3])
  })

  it('is the same bits in whatever pieces the pen tells of it', () => {
    const brush = { size: 40, jitterSize: 0.4, scatter: 0.5, grain: 'paper', steady: 0.2 } as const
    const [a, b] = [1, 60].map((chunk) => painted(brush, scribble, { tip: 'chalk', chunk }))
    expect([...a.places].sort()).toEqual([...b.places].sort())
    for (let y = 0; y < SIZE.height; y += 2)
      for (let x = 0; x < SIZE.width; x += 2) expect(a.at(x, y)).toEqual(b.at(x, y))
  })

  it('stays in what it is confined to, exactly as far as that covers', () => {
    const tiles = new KeptTiles()
    /** Half of each tile, with an edge of a quarter. */
    const plane = tiles.take(MASK_TILE_BYTES)
    const bytes = tiles.bytes(plane, TILE_PIXELS)
    for (let i = 0; i < TILE_PIXELS; i++) bytes[i] = i % TILE < 64 ? 255 : i % TILE === 64 ? 64 : 0
    const within = () => ({ address: plane, flags: 0 })
    const free = painted({ size: 150, whole: 1, flow: 1 }, scribble)
    const kept = painted({ size: 150, whole: 1, flow: 1 }, scribble, { tiles, ground: { within } })
    for (let y = 0; y < SIZE.height; y += 3)
      for (let x = 0; x < SIZE.width; x++) {
        const share = x % TILE < 64 ? 1 : x % TILE === 64 ? 64 / 255 : 0
        expect(Math.abs(kept.at(x, y)[3] - share * free.at(x, y)[3])).toBeLessThan(2e-5)
      }
    // Nothing at all of a tile that it may not come to.
    const nowhere = painted({ size: 150 }, scribble, { ground: { within: () => NOTHING } })
    expect(nowhere.places).toEqual([])
  })

  it('hides and shows a mask towards its value', () => {
    const { at } = painted({ size: 80, flow: 1, whole: 0.75 }, [pen(60, 60)], {
      act: { kind: 'mask', value: 0 },
    })
    expect(at(60, 60)[0]).toBeCloseTo(0.25, 4)
    expect(at(2, 2)[0]).toBe(1)
  })

  it('takes away, and changes nothing where there is nothing', () => {
    const erased = painted({ size: 80 }, scribble, { act: { kind: 'erase' } })
    expect(erased.places).toEqual([])
    const tiles = new KeptTiles()
    const address = tiles.take(8 * TILE_PIXELS)
    new Uint16Array(tiles.memory.buffer, address, 4 * TILE_PIXELS).fill(65535)
    const base = () => ({ address, flags: 0 })
    const { at } = painted({ size: 80, flow: 1, whole: 0.5 }, [pen(60, 60)], {
      act: { kind: 'erase' },
      tiles,
      ground: { base },
    })
    expect(at(60, 60)).toEqual([1, 1, 1, Math.round(65535 * 0.5) / 65535])
  })

  it('lightens, darkens and tints within a range of tones only', () => {
    const tiles = new KeptTiles()
    const address = tiles.take(8 * TILE_PIXELS)
    const words = new Uint16Array(tiles.memory.buffer, address, 4 * TILE_PIXELS)
    // Dark at the left, light at the right.
    for (let p = 0; p < TILE_PIXELS; p++)
      for (let c = 0; c < 4; c++) words[inBlocks(p, c)] = c === 3 ? 65535 : p % TILE < 64 ? 13107 : 52428
    const ground = { base: () => ({ address, flags: 0 }) }
    const range = [0, 0, 0.4, 0.5] as const
    for (const [kind, expected] of [
      ['lighten', 1 - 0.8 * 0.5],
      ['darken', 0.2 * 0.5],
      ['tint', 0.2],
    ] as const) {
      const act: StrokeAct = { kind, rgb: [0.5, 0.5, 0.5], range }
      const { at } = painted({ size: 200, flow: 1, whole: 1 }, [pen(64, 64)], { act, tiles, ground })
      expect(at(40, 64)[0], kind).toBeCloseTo(expected, 3)
      expect(at(90, 64)[0], kind).toBeCloseTo(0.8, 4)
    }
  })

  it('is mirrored about an axis', () => {
    const { at } = painted({ size: 40 }, [pen(60, 60), pen(90, 80)], {
      ground: { mirrors: { x: 200, y: null } },
    })
    for (let y = 30; y < 110; y += 2)
      for (let x = 30; x < 120; x += 2) expect(at(399 - x, y)[3]).toBeCloseTo(at(x, y)[3], 4)
  })

  it('leaves no memory behind', () => {
    const tiles = new KeptTiles()
    painted({ size: 200 }, scribble, { tiles })
    const after = tiles.usedBytes
    painted({ size: 200 }, scribble, { tiles })
    // Tips of both strokes.
    expect(tiles.usedBytes - after).toBe(after)
    expect(readPlace('3,2')).toEqual([3, 2])
    expect(() => readPlace('3')).toThrow('tiles')
  })

  /** A picture of two tiles: red at the left of x = 128, clear at its right. */
  const halves = () => {
    const tiles = new KeptTiles()
    const address = tiles.take(8 * TILE_PIXELS)
    const words = new Uint16Array(tiles.memory.buffer, address, 4 * TILE_PIXELS)
    for (let p = 0; p < TILE_PIXELS; p++)
      for (let c = 0; c < 4; c++) words[inBlocks(p, c)] = c === 0 || c === 3 ? 65535 : 0
    const base = (tx: number, ty: number) => (tx === 0 && ty === 0 ? { address, flags: 0 } : NOTHING)
    return { tiles, ground: { base } }
  }
  const across = Array.from({ length: 25 }, (_, i) => pen(80 + 4 * i, 64, i))

  it('drags paint along over the border of its tile', () => {
    const brush = { size: 40, flow: 1, whole: 1, spacing: 0.1 }
    const { at } = painted(brush, across, { act: { kind: 'smudge' }, ...halves() })
    // Red where there was nothing, as far as the stroke went and no farther.
    expect(at(140, 64)[3]).toBeGreaterThan(0.5)
    expect(at(140, 64)[0]).toBeCloseTo(1, 3)
    expect(at(240, 64)[3]).toBe(0)
    expect(at(140, 110)[3]).toBe(0)
    // Standing still moves nothing.
    const still = painted(brush, [pen(128, 64), pen(128, 64)], { act: { kind: 'smudge' }, ...halves() })
    expect(still.places).toEqual([])
  })

  it('works in its mirror too, and with a tip as large as there is', () => {
    const brush = { size: 40, flow: 1, whole: 1, spacing: 0.1 }
    const { tiles, ground } = halves()
    const mirrors = { x: null, y: 64 }
    // Along y = 30, and so along y = 98.
    const along = across.map((sample) => ({ ...sample, y: 30 }))
    const act: StrokeAct = { kind: 'smudge' }
    const { at } = painted(brush, along, { act, tiles, ground: { ...ground, mirrors } })
    expect(at(140, 30)[3]).toBeGreaterThan(0.5)
    for (let x = 120; x < 160; x += 4) expect(at(x, 97)[3]).toBeCloseTo(at(x, 30)[3], 2)
    const large = painted({ ...brush, size: 2000, spacing: 0.02 }, across, { act, ...halves() })
    expect(large.at(140, 64)[3]).toBeGreaterThan(0.5)
  })

  it('softens an edge and sharpens a soft one, and leaves what is even alone', () => {
    const brush = { size: 60, flow: 1, whole: 1, spacing: 0.1 }
    const soft = painted(brush, across, { act: { kind: 'soften' }, ...halves() })
    expect(soft.at(126, 64)[3]).toBeLessThan(0.95)
    expect(soft.at(130, 64)[3]).toBeGreaterThan(0.05)
    // Its colour is that of what is there, however little.
    expect(soft.at(130, 64)[0]).toBeCloseTo(1, 3)
    expect(soft.at(100, 64)).toEqual([1, 0, 0, 1])
    const tiles = new KeptTiles()
    const address = tiles.take(8 * TILE_PIXELS)
    const words = new Uint16Array(tiles.memory.buffer, address, 4 * TILE_PIXELS)
    // Grey that rises from left to right in a ramp between two even parts.
    const tone = (x: number) => Math.round(65535 * Math.min(0.7, Math.max(0.3, 0.3 + 0.02 * (x - 54))))
    for (let p = 0; p < TILE_PIXELS; p++)
      for (let c = 0; c < 4; c++) words[inBlocks(p, c)] = c === 3 ? 65535 : tone(p % TILE)
    const ground = { base: () => ({ address, flags: 0 }) }
    const act: StrokeAct = { kind: 'sharpen' }
    const { at } = painted({ ...brush, spacing: 3 }, [pen(64, 64)], { act, tiles, ground })
    // Beyond both ends of the ramp, and the same within it.
    expect(at(53, 64)[0]).toBeLessThan(0.3)
    expect(at(75, 64)[0]).toBeGreaterThan(0.7)
    expect(at(64, 64)[0]).toBeCloseTo(tone(64) / 65535, 3)
  })
})
