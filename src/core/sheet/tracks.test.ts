import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseHex } from '../math/colour'
import { srgbToOklab } from '../math/oklab'
import { gradientFill, newMask, wholePicture } from './new-layer'
import {
  EASES,
  eased,
  interpolationAt,
  sheetAt,
  trackProblem,
  trackSchema,
  trackValue,
  type Track,
} from './tracks'
import { effect } from './testing/random-sheet'
import { testLayer, testSheet } from './testing/sheets'

const sky = testLayer('sky', { content: gradientFill('linear', ['#102030', '#f0e0d0'], [0, 0], [0, 1]) })
const sun = testLayer('sun', {
  content: wholePicture('p'),
  effects: [effect('gaussianBlur', { sigma: 2 }), effect('tint', { dark: '#000000' })],
  mask: newMask(),
})
const sheet = testSheet({ width: 64, height: 48 }, [sky, sun], { background: '#ffffff80' })
const track = (
  path: Track['path'],
  ...keys: [number, Track['keys'][number]['value'], Track['keys'][number]['ease']?][]
): Track => trackSchema.parse({ path, keys: keys.map(([at, value, ease = 'even']) => ({ at, value, ease })) })

describe('a sheet at a time', () => {
  it('is the sheet where nothing moves, and an ordinary one where something does', () => {
    expect(sheetAt(sheet, [], 3)).toBe(sheet)
    const tracks = [track(['nodes', 'sun', 'opacity'], [0, 1], [2, 0])]
    const now = sheetAt(sheet, tracks, 0.5)
    expect(now.nodes.sun.opacity).toBe(0.75)
    // What does not move is what it was.
    expect(now.nodes.sky).toBe(sheet.nodes.sky)
    expect({ ...now, nodes: { ...now.nodes, sun } }).toEqual({ ...sheet, nodes: { ...sheet.nodes, sun } })
    expect(sheetAt(sheet, tracks, 0)).toBe(sheet)
    expect([-1, 2, 9].map((at) => sheetAt(sheet, tracks, at).nodes.sun.opacity)).toEqual([1, 0, 0])
  })
  it('finds effects by their ids, wherever they stand in their list', () => {
    const tracks = [track(['nodes', 'sun', 'effects', 'gaussianBlur', 'params', 'sigma'], [0, 2], [1, 10])]
    const turned = {
      ...sheet,
      nodes: { ...sheet.nodes, sun: { ...sun, effects: [...sun.effects].reverse() } },
    }
    expect(sheetAt(sheet, tracks, 0.5).nodes.sun.effects[0].params.sigma).toBe(6)
    expect(sheetAt(turned, tracks, 0.5).nodes.sun.effects[1].params.sigma).toBe(6)
  })
  it('leaves out what leads nowhere or may not be, and says why', () => {
    for (const [bad, words] of [
      [track(['nodes', 'moon', 'opacity'], [0, 1]), 'it leads nowhere: nodes.moon.opacity'],
      [
        track(['nodes', 'sun', 'effects', 9, 'opacity'], [0, 1]),
        'it leads nowhere: nodes.sun.effects.9.opacity',
      ],
      [track(['nodes', 'sun', '__proto__'], [0, 1]), 'it leads nowhere: nodes.sun.__proto__'],
      [track(['nodes', 'sun', 'opacity'], [0, 4]), 'nodes.sun.opacity cannot be 4: '],
      [track(['nodes', 'sun', 'mode'], [0, 'shine']), 'nodes.sun.mode cannot be "shine": '],
      [
        track(['nodes', 'sun', 'content', 'turnDeg'], [0, 'left']),
        'nodes.sun.content.turnDeg cannot be "left": ',
      ],
      [
        track(['nodes', 'sun', 'effects', 'gaussianBlur', 'params', 'sigma'], [0, -3]),
        'nodes.sun.effects.gaussianBlur.params.sigma cannot be -3: gaussianBlur.sigma',
      ],
    ] as const) {
      expect(trackProblem(sheet, bad)?.startsWith(words), words).toBe(true)
      expect(sheetAt(sheet, [bad], 0)).toBe(sheet)
    }
    expect(trackProblem(sheet, track(['nodes', 'sun', 'visible'], [0, false]))).toBeNull()
  })
  it('turns by the shorter way, within the range that the angle may have', () => {
    const turn = track(['nodes', 'sun', 'content', 'turnDeg'], [0, 350], [1, 10])
    const at = (time: number) => {
      const { content } = sheetAt(sheet, [turn], time).nodes.sun
      return content.kind === 'picture' ? content.turnDeg : NaN
    }
    expect([0, 0.25, 0.5, 0.75, 1].map(at)).toEqual([350, 355, 360, 5, 10])
  })
})

describe('interpolation', () => {
  it('is told by the schema of a parameter, or by value and name', () => {
    const by = (...path: (string | number)[]) => interpolationAt(sheet, path)
    expect(by('nodes', 'sun', 'effects', 0, 'params', 'sigma')).toBe('number')
    expect(by('nodes', 'sun', 'effects', 1, 'params', 'dark')).toBe('colour')
    expect(by('nodes', 'sun', 'effects', 1, 'params', 'nothing of it')).toBe('step')
    expect(by('nodes', 'sun', 'opacity')).toBe('number')
    expect(by('nodes', 'sun', 'content', 'turnDeg')).toBe('angle')
    expect(by('nodes', 'sun', 'visible')).toBe('step')
    expect(by('nodes', 'sun', 'mode')).toBe('step')
    expect(by('background')).toBe('colour')
    expect(by('nodes', 'sky', 'content', 'stops', 0, 'colour')).toBe('colour')
  })
  it('of colours goes evenly through OKLab, alpha with them', () => {
    const keys = track(['background'], [0, '#204060'], [1, '#e0a040ff']).keys
    const lab = (hex: unknown) => {
      const [r, g, b] = parseHex(String(hex))
      return srgbToOklab([r, g, b])
    }
    const half = trackValue({ keys }, 0.5, 'colour')
    const [a, b, m] = [lab('#204060'), lab('#e0a040'), lab(half)]
    a.forEach((v, c) => expect(m[c]).toBeCloseTo((v + b[c]) / 2, 2))
    expect(String(half)).toHaveLength(9)
    const faint = track(['background'], [0, '#ffffff00'], [1, '#ffffffff']).keys
    expect(trackValue({ keys: faint }, 0.5, 'colour')).toBe('#ffffff80')
  })
  it('eases from 0 to 1 without turning back', () => {
    for (const ease of EASES) {
      expect(eased(ease, 0)).toBe(0)
      if (ease !== 'hold') expect(eased(ease, 1)).toBe(1)
      const way = Array.from({ length: 65 }, (_, i) => eased(ease, i / 64))
      expect(way.every((v, i) => i === 0 || v >= way[i - 1])).toBe(true)
    }
    // Slow where it says so: the slope there is none.
    expect(eased('slow out', 0.01)).toBeLessThan(0.001)
    expect(1 - eased('slow in', 0.99)).toBeLessThan(0.001)
    expect(eased('slow both', 0.5)).toBe(0.5)
  })
  it('meets every key, stays between its neighbours, and steps only at keys', () => {
    const times = fc.uniqueArray(fc.integer({ min: 0, max: 50 }), { minLength: 1, maxLength: 6 })
    fc.assert(
      fc.property(
        times,
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.constantFrom(...EASES),
        (list, at, ease) => {
          const keys = list
            .sort((a, b) => a - b)
            .map((time, i) => ({ at: time, value: (i * 7919) % 10, ease }))
          for (const key of keys) expect(trackValue({ keys }, key.at, 'number')).toBe(key.value)
          const value = trackValue({ keys }, at, 'number') as number
          const near = keys.filter(
            (_, i) => (keys[i + 1]?.at ?? Infinity) >= at && (keys[i - 1]?.at ?? -1) <= at,
          )
          expect(value).toBeGreaterThanOrEqual(Math.min(...near.map((key) => key.value)))
          expect(value).toBeLessThanOrEqual(Math.max(...near.map((key) => key.value)))
          const words = keys.map((key) => ({ ...key, value: String(key.value) }))
          const before = [...words].reverse().find((key) => key.at <= at) ?? words[0]
          expect(trackValue({ keys: words }, at, 'step')).toBe(before.value)
        },
      ),
      { seed: 11 },
    )
  })
  it('refuses keys out of order', () => {
    expect(() => track(['background'], [1, '#000000'], [1, '#ffffff'])).toThrow(
      'must come one after the other',
    )
    expect(() => track([], [1, 2])).toThrow()
  })
})
