import { describe, expect, it } from 'vitest'
import type { MaskTerm } from './sheet-schema'
import { chooseSurfaces, maskPlane, MaskKeeper } from './mask-plane'
import type { SheetResources } from './sheet-resources'
import { sheetSchema } from './sheet-schema'
import type { PassResult } from '../passes/pass-result'
import { ID_PAIRS, NO_SURFACE } from '../passes/id'

const surface = (part: string, material: string) => ({
  part,
  material,
  partName: part,
  groups: [],
  opacity: 1,
  materialName: material,
  baseColour: [0, 0, 0] as const,
})
/** A roof of copper and iron, and a wall of iron. */
const SURFACES = [surface('roof', 'copper'), surface('roof', 'iron'), surface('wall', 'iron')]
const term = (join: MaskTerm['join'], by: MaskTerm['by'], ...keys: string[]): MaskTerm => ({ join, by, keys })

describe('chooseSurfaces', () => {
  it.each([
    ['adds', [term('add', 'part', 'roof')], [1, 1, 0], false],
    ['adds a second', [term('add', 'part', 'wall'), term('add', 'material', 'copper')], [1, 0, 1], false],
    ['takes away', [term('add', 'part', 'roof'), term('subtract', 'material', 'iron')], [1, 0, 0], false],
    ['intersects', [term('add', 'part', 'roof'), term('intersect', 'material', 'iron')], [0, 1, 0], false],
    ['begins with everything to take away', [term('subtract', 'part', 'roof')], [0, 0, 1], true],
    ['begins with everything to intersect', [term('intersect', 'material', 'iron')], [0, 1, 1], false],
    [
      'obeys the order of its lines',
      [term('subtract', 'part', 'roof'), term('add', 'material', 'copper')],
      [1, 0, 1],
      true,
    ],
    ['chooses nothing without terms', [], [0, 0, 0], false],
  ] as const)('%s', (_, terms, chosen, background) => {
    const found = chooseSurfaces(terms, SURFACES)
    expect([...found.surfaces]).toEqual(chosen)
    expect(found.background).toBe(background)
  })
})

describe('maskPlane', () => {
  // One pixel: 40 % copper of the roof, 20 % iron of the roof, 30 % wall, 10 % empty.
  const share = [102, 51, 77]
  const pairs = Array.from({ length: ID_PAIRS }, (_, k) => k)
  const idPass: PassResult = {
    kind: 'id',
    width: 1,
    height: 1,
    lights: [],
    params: {},
    facts: {},
    surfaces: SURFACES,
    channels: [
      ...pairs.map((k) => Uint16Array.of(k < 3 ? k : NO_SURFACE)),
      ...pairs.map((k) => Uint8Array.of(share[k] ?? 0)),
      Uint16Array.of(0),
    ],
  }
  const resources: SheetResources = { pass: () => null, picture: () => null, idPass: () => idPass }
  const sheet = sheetSchema.parse({
    id: 's',
    name: 's',
    width: 16,
    height: 16,
    blendSpace: 'display',
    background: null,
    layers: [],
  })
  const valueOf = (terms: MaskTerm[], invert = false): number => {
    const plane = maskPlane({ terms, picture: null, invert, featherPx: 0 }, resources, sheet, {
      width: 1,
      height: 1,
    })
    return plane ? plane[0] : NaN
  }
  it('is exact where terms meet inside one pixel', () => {
    // The roof's iron alone: a product or a minimum of the two coverages (0.6, 0.5) would say 0.3 or 0.5.
    expect(valueOf([term('add', 'part', 'roof'), term('intersect', 'material', 'iron')])).toBeCloseTo(0.2, 2)
    expect(valueOf([term('add', 'part', 'roof'), term('subtract', 'material', 'iron')])).toBeCloseTo(0.4, 2)
  })
  it('counts the empty background where it begins with everything', () => {
    expect(valueOf([term('subtract', 'part', 'roof')])).toBeCloseTo(0.4, 2)
    expect(valueOf([term('subtract', 'part', 'roof')], true)).toBeCloseTo(0.6, 2)
  })
  it('is kept until it, its size or what it is made from changes', () => {
    const keeper = new MaskKeeper()
    const mask = { terms: [term('add', 'part', 'roof')], picture: null, invert: false, featherPx: 0 }
    const size = { width: 1, height: 1 }
    const first = keeper.plane('l', mask, resources, sheet, size)
    expect(first).toEqual(maskPlane(mask, resources, sheet, size))
    expect(keeper.plane('l', structuredClone(mask), resources, sheet, size)).toBe(first)
    expect(keeper.plane('l', { ...mask, invert: true }, resources, sheet, size)?.[0]).toBeCloseTo(0.4, 2)
    expect(keeper.plane('l', mask, resources, sheet, { width: 2, height: 2 })).toHaveLength(4)
    const other = { ...idPass, channels: idPass.channels.map((c) => c.slice()) }
    const again = keeper.plane('l', mask, { ...resources, idPass: () => other }, sheet, size)
    expect(again).not.toBe(first)
    expect(again).toEqual(first)
    expect(keeper.plane('l', mask, { ...resources, idPass: () => null }, sheet, size)).toBeNull()
  })
  it('has nothing to say without an ID pass', () => {
    const none = { ...resources, idPass: () => null }
    const mask = { terms: [term('add', 'part', 'roof')], picture: null, invert: false, featherPx: 0 }
    expect(maskPlane(mask, none, sheet, { width: 1, height: 1 })).toBeNull()
  })
})
