import { describe, expect, it } from 'vitest'
import { DEFAULT_RIG } from '../scene/ready-rigs'
import { newLight, type Rig } from '../scene/light-rig'
import { mockupScene, printDensity, type MockupForm } from './mockup-scene'
import { MockupRender, type MockupPlanes } from './mockup-window'
import { STAND_KINDS } from './stands'

const FORM: MockupForm = {
  things: {
    stand: 'pasted',
    folds: 'none',
    foldDeg: 0,
    creases: 0,
    waves: 0,
    curl: 0,
    curlAcross: false,
    corner: 'none',
    cornerRoll: 0.3,
    wallColour: '#808080',
    seed: 1,
  },
  wall: 'even',
  azimuthDeg: 0,
  elevationDeg: 0,
  rollDeg: 0,
  fovDeg: 30,
  room: 0.1,
  shift: [0, 0],
  rig: DEFAULT_RIG,
  lightTurnDeg: 0,
}
const FRAME = { width: 96, height: 80 }
const WHOLE = { x: 0, y: 0, ...FRAME }
const ASPECT = 0.75

const rendered = (form: MockupForm, isDraft = true): MockupPlanes =>
  new MockupRender(mockupScene(form.things, ASPECT, isDraft), form, ASPECT, isDraft).window(
    WHOLE,
    FRAME,
    () => false,
  )
const withThings = (things: Partial<MockupForm['things']>, rest: Partial<MockupForm> = {}): MockupForm => ({
  ...FORM,
  ...rest,
  things: { ...FORM.things, ...things },
})
const sum = (values: Iterable<number>): number => [...values].reduce((a, b) => a + b, 0)

describe('a page on paper', () => {
  it('looked at straight covers what a flat sheet covers, and shows every place where it lies', () => {
    const [paper, u, v] = rendered(FORM)
    // A tenth of the height is left free above and below.
    const high = 0.8 * FRAME.height
    expect(sum(paper) / (high * high * ASPECT)).toBeCloseTo(1, 1)
    const middle = (FRAME.height / 2) * FRAME.width + FRAME.width / 2
    expect([u[middle], v[middle]]).toEqual([expect.closeTo(0.5, 1), expect.closeTo(0.5, 1)])
    for (let y = 1; y < FRAME.height; y++)
      for (let x = 1; x < FRAME.width; x++) {
        const i = y * FRAME.width + x
        if (paper[i] < 1 || paper[i - 1] < 1 || paper[i - FRAME.width] < 1) continue
        expect(u[i]).toBeGreaterThan(u[i - 1])
        expect(v[i]).toBeGreaterThan(v[i - FRAME.width])
      }
  })
  it('flat and unshadowed is as bright as it is: light on it is 1', () => {
    const [paper, , , r, g, b] = rendered(FORM, false)
    for (let i = 0; i < paper.length; i++)
      if (paper[i] === 1) for (const plane of [r, g, b]) expect(Math.abs(plane[i] - 1)).toBeLessThan(0.04)
  })
  it('creased keeps its brightness on the whole, and differs place by place', () => {
    const creased = withThings({ stand: 'pinned', creases: 0.8, waves: 0.5, folds: 'quarters', foldDeg: 14 })
    const [paper, , , r] = rendered(creased, false)
    const seen = [...r.keys()].filter((i) => paper[i] === 1).map((i) => r[i])
    seen.sort((a, b) => a - b)
    expect(seen[seen.length >> 1]).toBeCloseTo(1, 1)
    expect(seen[Math.floor(0.98 * seen.length)] - seen[Math.floor(0.02 * seen.length)]).toBeGreaterThan(0.15)
  })
  it('throws a shadow on the wall where it stands off, on the side away from the light', () => {
    const sun: Rig = {
      id: 'r',
      name: 'r',
      lights: [newLight('sun', 's', { azimuthDeg: -45, elevationDeg: 0, sizeDeg: 1 })],
    }
    const held = withThings({ stand: 'clips' }, { rig: sun, wall: 'none' })
    const [paper, , , , , , , , , shadow] = rendered(held)
    const [left, right] = [0, 0].map(() => [] as number[])
    for (let i = 0; i < paper.length; i++)
      if (paper[i] === 0) (i % FRAME.width < FRAME.width / 2 ? left : right).push(shadow[i])
    expect(sum(right)).toBeGreaterThan(3 * sum(left) + 3)
  })
  it('rolled up at a corner shows its back there, not its print', () => {
    const flat = rendered(FORM)
    const rolled = rendered(withThings({ corner: 'lower right', cornerRoll: 0.6 }))
    expect(sum(rolled[0])).toBeLessThan(0.95 * sum(flat[0]))
    // The place in the corner itself is seen nowhere.
    const nearest = Math.min(
      ...[...rolled[0].keys()]
        .filter((i) => rolled[0][i] === 1)
        .map((i) => Math.hypot(1 - rolled[1][i], 1 - rolled[2][i])),
    )
    expect(nearest).toBeGreaterThan(0.15)
  })
  it('is the same cut into windows, and asked for in any order', () => {
    const form = withThings({ stand: 'taped', creases: 0.5, folds: 'half', foldDeg: 9 })
    const whole = rendered(form)
    const parts = new MockupRender(mockupScene(form.things, ASPECT, true), form, ASPECT, true)
    for (const x of [48, 0]) {
      const tile = { x, y: 16, width: 48, height: 40 }
      const planes = parts.window(tile, FRAME, () => false)
      planes.forEach((plane, k) => {
        for (let row = 0; row < tile.height; row++)
          expect(plane.subarray(row * 48, row * 48 + 48)).toEqual(
            whole[k].subarray((row + 16) * FRAME.width + x, (row + 16) * FRAME.width + x + 48),
          )
      })
    }
  })
  it('is whole on every stand: each pixel is the print or something about it', () => {
    for (const stand of STAND_KINDS) {
      const form = withThings(
        { stand, creases: 0.4 },
        stand === 'lying' ? { elevationDeg: 50 } : { azimuthDeg: -14 },
      )
      const planes = rendered(form)
      const [paper, u, v] = planes
      const around = planes[9]
      for (let i = 0; i < paper.length; i++) {
        expect(paper[i] + around[i]).toBeCloseTo(1, 5)
        if (paper[i] > 0) expect(u[i] >= 0 && u[i] <= 1 && v[i] >= 0 && v[i] <= 1).toBe(true)
      }
      expect(sum(paper)).toBeGreaterThan(0.08 * paper.length)
    }
  })
  it('mirrors in glass where there is glass, and nowhere else', () => {
    expect(sum(rendered(withThings({ stand: 'framed' }))[10])).toBeGreaterThan(1)
    expect(sum(rendered(FORM)[10])).toBe(0)
  })
  it('is planned as large as it is seen', () => {
    expect(printDensity(FORM, ASPECT, FRAME)).toBeCloseTo(0.8 * FRAME.height * ASPECT, 0)
    expect(printDensity({ ...FORM, azimuthDeg: 50 }, ASPECT, { width: 960, height: 800 })).toBeGreaterThan(
      400,
    )
  })
})
