import { describe, expect, it } from 'vitest'
import { ID_PAIRS, NO_SURFACE } from '../../passes/id'
import type { PassResult } from '../../passes/pass-result'
import { surfaceTerm } from '../new-layer'
import type { MaskTerm, SurfaceTerm } from '../terms/registry'
import type { TermJoin } from '../terms/term-kind'
import { testResources } from '../testing/sheets'
import { chooseSurfaces, joinPlane, runWindow, termRuns } from './mask-window'

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
const term = (join: TermJoin, by: 'part' | 'material', ...keys: string[]): SurfaceTerm =>
  surfaceTerm(by === 'part' ? 'parts' : 'materials', keys, join)
const inverted = (own: SurfaceTerm): SurfaceTerm => ({ ...own, invert: true })

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
    ['adds all but what it names', [inverted(term('add', 'part', 'wall'))], [1, 1, 0], true],
    ['takes away all but what it names', [inverted(term('subtract', 'material', 'iron'))], [0, 1, 1], false],
  ] as const)('%s', (_, terms, chosen, background) => {
    const found = chooseSurfaces(terms, SURFACES)
    expect([...found.surfaces]).toEqual(chosen)
    expect(found.background).toBe(background)
  })
})

describe('a window of a mask', () => {
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
  const resources = testResources({}, { shotPass: () => idPass })
  const size = { width: 1, height: 1 }
  const target = {
    window: { x: 0, y: 0, ...size },
    view: size,
    sheet: { width: 16, height: 16, fit: 'extend' as const },
    resources,
  }
  /** What terms say of the one pixel. */
  const valueOf = (terms: readonly MaskTerm[], given = target): number => {
    let made: Float32Array | null = null
    for (const run of termRuns(terms)) {
      const plane = runWindow(run, given, undefined, () => [])
      if (!plane) continue
      const own = plane.map((v) => (run.invert ? 1 - v : v) * run.strength)
      made ??= new Float32Array(1).fill(run.join === 'add' ? 0 : 1)
      joinPlane(made, own, run.join)
    }
    return made ? made[0] : NaN
  }
  it('is exact where terms meet inside one pixel', () => {
    // The roof's iron alone: a product or a minimum of the two coverages (0.6, 0.5) would say 0.3 or 0.5.
    expect(valueOf([term('add', 'part', 'roof'), term('intersect', 'material', 'iron')])).toBeCloseTo(0.2, 2)
    expect(valueOf([term('add', 'part', 'roof'), term('subtract', 'material', 'iron')])).toBeCloseTo(0.4, 2)
  })
  it('counts the empty background where it begins with everything', () => {
    expect(valueOf([term('subtract', 'part', 'roof')])).toBeCloseTo(0.4, 2)
    expect(valueOf([inverted(term('add', 'part', 'roof'))])).toBeCloseTo(0.4, 2)
  })
  it('weighs a term by its strength, and leaves out what is switched off', () => {
    const wall = term('add', 'part', 'wall')
    expect(valueOf([{ ...wall, strength: 0.5 }])).toBeCloseTo(0.15, 2)
    expect(valueOf([{ ...wall, enabled: false }, term('add', 'part', 'roof')])).toBeCloseTo(0.6, 2)
  })
  it('has nothing to say without an ID pass', () => {
    const none = { ...target, resources: testResources() }
    expect(valueOf([term('add', 'part', 'roof')], none)).toBeNaN()
  })
})

describe('termRuns', () => {
  const soft = { ...term('add', 'part', 'wall'), featherPx: 4 }
  const shape = (terms: readonly MaskTerm[]) =>
    termRuns(terms).map(({ join, source, featherPx }) => [
      join,
      source.by === 'surfaces' ? source.terms.length : 'plane',
      featherPx,
    ])
  it('joins as surfaces what can be, whatever the joins at the beginning of a list', () => {
    const terms = [
      term('add', 'part', 'roof'),
      term('subtract', 'material', 'iron'),
      term('intersect', 'part', 'wall'),
    ]
    expect(shape(terms)).toEqual([['add', 3, 0]])
  })
  it('goes on behind a soft edge with runs of one join each', () => {
    const terms = [
      term('add', 'part', 'roof'),
      soft,
      term('subtract', 'material', 'iron'),
      term('subtract', 'part', 'roof'),
      term('intersect', 'part', 'wall'),
      term('intersect', 'part', 'roof'),
    ]
    expect(shape(terms)).toEqual([
      ['add', 1, 0],
      ['add', 1, 4],
      ['subtract', 2, 0],
      ['intersect', 1, 0],
      ['intersect', 1, 0],
    ])
  })
  it('inverts a soft term as a plane, so that its edge is soft on both sides', () => {
    const [run] = termRuns([{ ...soft, invert: true }])
    expect(run.invert).toBe(true)
    expect(run.source.by === 'surfaces' && run.source.terms[0].invert).toBe(false)
  })
})
