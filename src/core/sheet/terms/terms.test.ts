import { describe, expect, it } from 'vitest'
import { farthestOff } from '@/core/testing/farthest-off'
import { testResources, testLayer, testSheet, composed } from '../testing/sheets'
import { PlainSheet } from '../testing/plain-sheet'
import { ball, cube, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import { TILE, TILE_PIXELS } from '../../picture/tile-form'
import { effect } from '../testing/random-sheet'
import { evenFill, gradientFill, newMask, newTerm, surfaceTerm, wholePicture } from '../new-layer'
import type { Mask } from '../sheet-schema'
import { closedCurve, polygonCoverage } from './polygon-coverage'
import { terms, termUses, type MaskTerm } from './registry'

/** What holds for every term of a mask, whichever is added. */

const SIZE = { width: 150, height: 60 }
const grey = {
  ...SIZE,
  pixels: Float32Array.from({ length: 4 * SIZE.width * SIZE.height }, (_, i) =>
    i % 4 === 3 ? 1 : (((i >> 2) % SIZE.width) + 0.5) / SIZE.width,
  ),
}
const ballModel = sceneModel(ball(1.7, 16), 'ball')
const block = sceneModel(cube(), 'block')
const scene = [
  { ...ballModel, parts: ballModel.parts.map((part) => ({ ...part, group: ['Round things'] })) },
  { ...block, parts: block.parts.map((part) => ({ ...part, role: 'ground' as const })) },
]
const passes = new Map(
  (['id', 'depth', 'facing', 'cavity'] as const).map((kind) => [
    kind as string,
    renderPass(kind, scene, fromFront(4), SIZE).result,
  ]),
)
// Nothing in the scene lies in the dark: what turns away does here.
const facing = passes.get('facing')
if (facing) {
  const [turned, alpha] = facing.channels
  const channels = [turned, turned, turned, turned, alpha]
  passes.set('occlusion', { ...facing, kind: 'occlusion', channels })
}
/** A tile of a mask that was painted. */
const tile = Uint16Array.from(
  { length: TILE_PIXELS },
  (_, p) => 65535 * (0.5 + 0.5 * Math.sin((p % TILE) / 11 + Math.floor(p / TILE) / 7)),
)
const resources = testResources(
  { grey },
  { shotPass: (_, kind) => passes.get(kind) ?? null, paintTile: (name) => (name === 'tile' ? tile : null) },
)
const [{ part, material }] = passes.get('id')?.surfaces ?? []

/** One of each kind that there is. */
const EXAMPLES: readonly MaskTerm[] = [
  surfaceTerm('parts', [part]),
  surfaceTerm('materials', [material]),
  surfaceTerm('groups', ['Round things']),
  surfaceTerm('roles', ['subject']),
  newTerm('depthRange', { range: [-1, -1, 0.4, 0.8] }),
  newTerm('heightRange', { range: [-1, -1, 0.4, 0.8] }),
  newTerm('brightnessRange'),
  newTerm('chromaRange', { range: [0, 0.1, 0.4, 0.6] }),
  newTerm('hueRange', { aboutDeg: 60, widthDeg: 60 }),
  newTerm('similarColour', { colour: '#808080', reach: 0.1, soft: 0.1 }),
  newTerm('standing', { depth: 0.45 }),
  newTerm('facingRange', { range: [0, 0, 0.6, 0.95] }),
  newTerm('occlusionRange', { range: [0, 0, 0.5, 0.8] }),
  newTerm('cavityRange', { range: [-1, -1, -0.01, -0.001] }),
  newTerm('gradient'),
  newTerm('circle', { centre: [0.4, 0.5], radius: 0.2, soft: 0.1 }),
  newTerm('polygon', { round: true }),
  newTerm('layerAlpha', { layer: 'other' }),
  newTerm('layerMask', { layer: 'other' }),
  newTerm('clouds', { size: 40 }),
  newTerm('picture', { pictureId: 'grey' }),
  newTerm('painted', { ...SIZE, tiles: { '0,0': 'tile' }, outside: true }),
]
it('every term is among those that are held to this', () => {
  expect(EXAMPLES.map((term) => (term.kind === 'unreadable' ? term.why : term.kind))).toEqual(
    terms.kinds.map(({ kind }) => kind),
  )
})

/** A white layer through a mask, over colours, beside another layer. */
function sheetOf(mask: Partial<Mask>) {
  const layers = [
    testLayer('colours', { content: gradientFill('linear', ['#203a50', '#e0b060'], [0, 0], [1, 1]) }),
    testLayer('other', {
      content: wholePicture('grey'),
      visible: false,
      mask: { ...newMask(), terms: [newTerm('gradient', { from: [0, 0.5], to: [1, 0.5] })] },
    }),
    testLayer('white', { content: evenFill('#ffffff'), mask: { ...newMask(), ...mask } }),
  ]
  return testSheet(SIZE, layers, { shotId: 'shot' })
}
/** How much of what lies beneath a mask lets through, pixel by pixel. */
function shown(mask: Partial<Mask>, size = SIZE): Float32Array {
  const [under, made] = [sheetOf({ ...newMask(), terms: [surfaceTerm('parts', [])] }), sheetOf(mask)].map(
    (sheet) => composed(sheet, resources, { size }),
  )
  return Float32Array.from({ length: size.width * size.height }, (_, p) => {
    const c = 4 * p
    return (made[c] - under[c]) / (1 - under[c])
  })
}
const mean = (values: Float32Array): number => values.reduce((sum, v) => sum + v, 0) / values.length
const changed = (term: MaskTerm, changes: object): MaskTerm => ({ ...term, ...changes }) as MaskTerm

describe.each(EXAMPLES.map((term) => [term.kind, term] as const))('a term of %s', (_, term) => {
  it('is the same after it was stored, and knows the pictures it is made from', () => {
    expect(terms.read(JSON.parse(JSON.stringify(term)))).toEqual(term)
    for (const id of termUses(term)) expect(resources.picture(id)).not.toBeNull()
  })
  it('says something between nothing and all, by tiles as its definition says of the whole', () => {
    const own = mean(shown({ terms: [term] }))
    expect(own).toBeGreaterThan(0.003)
    expect(own).toBeLessThan(0.98)
    for (const changes of [{}, { growPx: 4 }, { growPx: -3, featherPx: 2 }]) {
      const sheet = sheetOf({ terms: [changed(term, changes)] })
      const found = composed(sheet, resources)
      const off = new PlainSheet(sheet, SIZE, resources)
        .picture()
        .flat()
        .map((v, i) => Math.abs(v - found[i]))
      expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(1e-3)
    }
  })
  it('hides as much small as large', () => {
    const small = shown({ terms: [term] }, { width: 75, height: 30 })
    expect(Math.abs(mean(small) - mean(shown({ terms: [term] })))).toBeLessThan(0.06)
  })
  it('inverted shows what it hid; of no strength, or switched off, it changes nothing', () => {
    const own = mean(shown({ terms: [term] }))
    expect(own + mean(shown({ terms: [changed(term, { invert: true })] }))).toBeCloseTo(1, 2)
    expect(own + mean(shown({ terms: [term], invert: true }))).toBeCloseTo(1, 2)
    const taken = (changes: object) =>
      mean(shown({ terms: [term, changed(term, { join: 'subtract', ...changes })] }))
    expect(taken({ strength: 0 })).toBeCloseTo(own, 3)
    expect(taken({ enabled: false })).toBeCloseTo(own, 6)
    expect(taken({})).toBeLessThan(own)
  })
  it('feathered keeps about what it shows; grown shows more, shrunk less', () => {
    const own = mean(shown({ terms: [term] }))
    const as = (changes: object) => mean(shown({ terms: [changed(term, changes)] }))
    expect(Math.abs(as({ featherPx: 3 }) - own)).toBeLessThan(0.06)
    expect(as({ growPx: 3 })).toBeGreaterThan(own)
    expect(as({ growPx: -3 })).toBeLessThan(own)
  })
  it('goes through effects as a grey picture does', () => {
    const own = shown({ terms: [term] })
    const darker = shown({ terms: [term], effects: [effect('levels', { gamma: 0.5 })] })
    expect(
      farthestOff(
        darker,
        own.map((v) => v ** 2),
      ),
    ).toBeLessThan(0.02)
  })
})

describe('a term that is made from a pass', () => {
  it('has nothing to say where there is none: the mask limits nothing', () => {
    const none = testResources({ grey })
    for (const kind of [
      'depthRange',
      'heightRange',
      'facingRange',
      'occlusionRange',
      'cavityRange',
    ] as const) {
      const picture = composed(sheetOf({ terms: [newTerm(kind)] }), none)
      expect(picture.every((v) => v > 0.999)).toBe(true)
    }
  })
  it('may be made from a picture instead: light is near', () => {
    const near = shown({ terms: [newTerm('depthRange', { map: 'grey', range: [-1, -1, 0.5, 0.5] })] })
    expect(near[10]).toBeCloseTo(0, 2)
    expect(near[140]).toBeCloseTo(1, 2)
  })
})

describe('terms that look at layers', () => {
  const lights = (layer: string) => newTerm('brightnessRange', { layer, range: [0.5, 0.5, 1, 1] })
  it('see what lies beneath, or the layer they name', () => {
    const beneath = shown({ terms: [lights('')] })
    // From dark in one corner to light in the other.
    expect(beneath[0]).toBeCloseTo(0, 2)
    expect(beneath[beneath.length - 1]).toBeCloseTo(1, 2)
    // The grey picture is light at the right; the gradient of its mask makes it dark again.
    const other = shown({ terms: [lights('other')] })
    expect(mean(other)).toBeLessThan(0.1)
  })
  it('see nothing of a layer that is gone, nor of themselves', () => {
    for (const layer of ['nowhere', 'white']) {
      const through = shown({ terms: [newTerm('layerAlpha', { layer })] })
      expect(mean(through)).toBeCloseTo(1, 3)
    }
  })
  it('share a mask: what changes there changes here', () => {
    const own = shown({ terms: [newTerm('layerMask', { layer: 'other' })] })
    expect(own[0]).toBeCloseTo(1, 1)
    expect(own[SIZE.width - 1]).toBeCloseTo(0, 1)
  })
})

describe('a circle', () => {
  it('covers as much as its area, hard or soft', () => {
    const size = { width: 100, height: 60 }
    for (const soft of [0, 0.1]) {
      const mask = { ...newMask(), terms: [newTerm('circle', { centre: [0.5, 0.5], radius: 0.2, soft })] }
      const sheet = testSheet(size, [testLayer('a', { content: evenFill('#ffffff'), mask })])
      const pixels = composed(sheet, testResources())
      const sum = pixels.reduce((all, v, i) => (i % 4 === 3 ? all + v : all), 0)
      const diagonal = Math.hypot(100, 60)
      // A straight soft edge from r − s/2 to r + s/2 covers π (r² + s²/12).
      const area = Math.PI * ((0.2 * diagonal) ** 2 + (soft * diagonal) ** 2 / 12)
      expect(Math.abs(sum / area - 1)).toBeLessThan(0.01)
    }
  })
})

describe('a shape', () => {
  it('covers pixels by their share: a half, a quarter, a triangle', () => {
    const window = { x: 10, y: 20, width: 4, height: 2 }
    const box = polygonCoverage(
      [
        [11.5, 20],
        [13.25, 20],
        [13.25, 21.5],
        [11.5, 21.5],
      ],
      window,
    )
    expect([...box]).toEqual([0, 0.5, 1, 0.25, 0, 0.25, 0.5, 0.125])
    const triangle = polygonCoverage(
      [
        [10, 20],
        [14, 20],
        [10, 22],
      ],
      window,
    )
    expect(triangle.reduce((a, b) => a + b, 0)).toBeCloseTo(4, 2)
  })
  it('crosses itself by the even-odd rule', () => {
    const twice = [0, 1].flatMap(
      () =>
        [
          [0, 0],
          [2, 0],
          [2, 2],
          [0, 2],
        ] as [number, number][],
    )
    const plane = polygonCoverage(twice, { x: 0, y: 0, width: 2, height: 2 })
    expect([...plane]).toEqual([0, 0, 0, 0])
  })
  it('rounded goes through its corners', () => {
    const corners: [number, number][] = [
      [0, 0],
      [4, 0],
      [4, 4],
      [0, 4],
    ]
    const curve = closedCurve(corners)
    for (const corner of corners) expect(curve).toContainEqual(corner)
    expect(curve.length).toBeGreaterThan(4 * 8)
  })
})

describe('clouds that drift', () => {
  const clouds = (phase: number) => shown({ terms: [newTerm('clouds', { size: 20, phase })] })
  const apart = (a: Float32Array, b: Float32Array) =>
    a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length
  it('are where they began after a whole round', () => {
    expect(clouds(1)).toEqual(clouds(0))
    expect(clouds(3)).toEqual(clouds(0))
    expect(apart(clouds(0.999), clouds(0))).toBeLessThan(0.02)
  })
  it('change little from moment to moment, and are others half a round on', () => {
    expect(apart(clouds(0.25), clouds(0.26))).toBeLessThan(0.1)
    expect(apart(clouds(0.5), clouds(0))).toBeGreaterThan(0.1)
  })
})
