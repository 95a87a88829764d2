import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { fromFront, meshOf, renderPass, sceneModel } from '../testing/shapes'
import type { RgbaPicture } from '../picture/rgba-picture'
import { BLEND_MODES } from './blend-modes'
import type { SheetResources } from './sheet-resources'
import { newLayer } from './new-layer'
import { SheetCompositor } from './sheet-compositor'
import type { Layer, Sheet } from './sheet-schema'
import { sheetSchema } from './sheet-schema'

const SIZE = { width: 32, height: 20 }
const random = seededRandom(4)
const noise: RgbaPicture = { ...SIZE, pixels: Float32Array.from({ length: 4 * 32 * 20 }, () => random()) }
// Left half "left", right half "right", the rest of the height empty.
const halves = [
  sceneModel(
    meshOf([
      [
        [-16, -5, 0],
        [0, -5, 0],
        [0, 5, 0],
        [-16, 5, 0],
      ],
    ]),
    'left',
  ),
  sceneModel(
    meshOf([
      [
        [0, -5, 0],
        [16, -5, 0],
        [16, 5, 0],
        [0, 5, 0],
      ],
    ]),
    'right',
  ),
]
const idPass = renderPass('id', halves, fromFront(20), SIZE).result
const resources: SheetResources = {
  pass: (id) => (id === 'id' ? idPass : null),
  picture: (id) => (id === 'noise' ? noise : null),
  idPass: () => idPass,
}
const layer = (id: string, rest: Partial<Layer> & Pick<Layer, 'source'>): Layer =>
  newLayer({ id, name: id, ...rest })
const fill = (colour: string): Layer['source'] => ({ type: 'fill', colour, to: null, angleDeg: 90 })
const sheet = (layers: Layer[], rest: Partial<Sheet> = {}): Sheet =>
  sheetSchema.parse({ id: 's', name: 's', ...SIZE, blendSpace: 'display', background: null, layers, ...rest })
const compose = (s: Sheet, options = {}) =>
  new SheetCompositor(resources).compose(s, { size: SIZE, ...options })
const pixel = (p: Float32Array, x: number, y: number) =>
  Array.from(p.subarray(4 * (y * 32 + x), 4 * (y * 32 + x) + 4))

describe('SheetCompositor', () => {
  it('gives the same from its caches as from nothing, through a hundred random changes', () => {
    const layers = BLEND_MODES.slice(0, 6).map((mode, i) =>
      layer(`l${i}`, { mode, source: i % 2 ? fill('#8844cc80') : { type: 'picture', pictureId: 'noise' } }),
    )
    let current = sheet(layers, { background: '#224466' })
    const kept = new SheetCompositor(resources)
    const dice = seededRandom(12)
    for (let step = 0; step < 100; step++) {
      const next = structuredClone(current)
      const target = next.layers[Math.floor(dice() * next.layers.length)]
      const what = Math.floor(dice() * 6)
      if (what < 2) target.opacity = dice()
      else if (what === 2) target.visible = !target.visible
      else if (what === 3) target.mode = BLEND_MODES[Math.floor(dice() * BLEND_MODES.length)]
      else if (what === 4) target.confine = !target.confine
      else next.layers.push(next.layers.splice(Math.floor(dice() * next.layers.length), 1)[0])
      current = next
      const upTo = dice() < 0.3 ? Math.floor(dice() * 7) : undefined
      const without = dice() < 0.2 ? 'l2' : null
      const a = kept.compose(current, { size: SIZE, upTo, without })
      const b = compose(current, { upTo, without })
      expect(Buffer.from(a.buffer).equals(Buffer.from(b.buffer))).toBe(true)
    }
  })
  it('masks by part with the exact coverage, invert and feather', () => {
    const masked = (rest: object) =>
      layer('m', {
        source: fill('#ffffff'),
        mask: {
          terms: [{ join: 'add', by: 'part', keys: ['left'] }],
          picture: null,
          invert: false,
          featherPx: 0,
          ...rest,
        },
      })
    const plain = compose(sheet([masked({})]))
    expect(pixel(plain, 4, 10)).toEqual([1, 1, 1, 1])
    expect(pixel(plain, 20, 10)[3]).toBe(0)
    expect(pixel(plain, 4, 1)[3]).toBe(0)
    const inverted = compose(sheet([masked({ invert: true })]))
    expect(pixel(inverted, 4, 10)[3]).toBe(0)
    expect(pixel(inverted, 20, 10)[3]).toBe(1)
    const soft = compose(sheet([masked({ featherPx: 2 })]))
    expect(pixel(soft, 15, 10)[3] + pixel(soft, 16, 10)[3]).toBeCloseTo(1, 1)
    expect(pixel(soft, 13, 10)[3]).toBeGreaterThan(pixel(soft, 15, 10)[3])
  })
  it('joins terms: add, subtract, intersect; by material too', () => {
    const terms = (list: [string, 'part' | 'material', string[]][]) =>
      compose(
        sheet([
          layer('m', {
            source: fill('#fff000'),
            mask: {
              terms: list.map(([join, by, keys]) => ({ join: join as 'add', by, keys })),
              picture: null,
              invert: false,
              featherPx: 0,
            },
          }),
        ]),
      )
    const both = terms([
      ['add', 'part', ['left']],
      ['add', 'material', ['right material']],
    ])
    expect([pixel(both, 4, 10)[3], pixel(both, 20, 10)[3], pixel(both, 4, 1)[3]]).toEqual([1, 1, 0])
    const less = terms([
      ['add', 'part', ['left', 'right']],
      ['subtract', 'part', ['right']],
    ])
    expect([pixel(less, 4, 10)[3], pixel(less, 20, 10)[3]]).toEqual([1, 0])
    const none = terms([
      ['add', 'part', ['left']],
      ['intersect', 'part', ['right']],
    ])
    expect(pixel(none, 4, 10)[3]).toBe(0)
    const allBut = terms([['subtract', 'part', ['left']]])
    expect([pixel(allBut, 4, 10)[3], pixel(allBut, 4, 1)[3]]).toEqual([0, 1])
  })
  it('confines a layer to the pixels beneath it', () => {
    const base = layer('base', { source: { type: 'pass', passId: 'id', look: {} } })
    const wash = layer('wash', { source: fill('#ff0000'), confine: true })
    const shown = compose(sheet([base, wash]))
    expect(pixel(shown, 4, 10)).toEqual([1, 0, 0, 1])
    expect(pixel(shown, 4, 1)[3]).toBe(0)
    expect(pixel(compose(sheet([{ ...base, visible: false }, wash])), 4, 10)[3]).toBe(0)
  })
  it('blends in linear light when asked', () => {
    const layers = [
      layer('a', { source: fill('#ffffff') }),
      layer('b', { source: fill('#000000'), opacity: 0.5 }),
    ]
    expect(pixel(compose(sheet(layers)), 0, 0)[0]).toBeCloseTo(0.5, 5)
    expect(pixel(compose(sheet(layers, { blendSpace: 'linear' })), 0, 0)[0]).toBeCloseTo(0.7354, 3)
  })
  it('peels, leaves out, and drops the background', () => {
    const s = sheet([layer('a', { source: fill('#ff0000') }), layer('b', { source: fill('#00ff00') })], {
      background: '#0000ff',
    })
    expect(pixel(compose(s), 0, 0)).toEqual([0, 1, 0, 1])
    expect(pixel(compose(s, { upTo: 1 }), 0, 0)).toEqual([1, 0, 0, 1])
    expect(pixel(compose(s, { upTo: 0 }), 0, 0)).toEqual([0, 0, 1, 1])
    expect(pixel(compose(s, { without: 'b' }), 0, 0)).toEqual([1, 0, 0, 1])
    expect(pixel(compose(s, { upTo: 0, transparent: true }), 0, 0)).toEqual([0, 0, 0, 0])
  })
  it('applies effects before blending, and skips a missing pass', () => {
    const grey = layer('g', {
      source: fill('#808080'),
      effects: [{ id: 'e', kind: 'levels', enabled: true, params: { black: 0.5, white: 1 } }],
    })
    expect(pixel(compose(sheet([grey])), 0, 0)[0]).toBeCloseTo((128 / 255 - 0.5) / 0.5, 5)
    const tinted = {
      ...grey,
      effects: [
        {
          id: 'e',
          kind: 'tint' as const,
          enabled: true,
          params: { dark: '#ff0000', light: '#ff0000', amount: 1 },
        },
      ],
    }
    expect(pixel(compose(sheet([tinted])), 0, 0)).toEqual([1, 0, 0, 1])
    expect(
      pixel(compose(sheet([layer('x', { source: { type: 'pass', passId: 'gone', look: {} } })])), 0, 0)[3],
    ).toBe(0)
  })
})
