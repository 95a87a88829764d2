import { describe, expect, it } from 'vitest'
import type { Tile } from '../../passes/tile'
import type { RgbaPicture } from '../../picture/rgba-picture'
import { ball, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import { contentOf, gradientFill, passOf, wholePicture } from '../new-layer'
import { TEXTURES } from './textures/registry'
import { testResources } from '../testing/sheets'
import { quadToSquare } from '../../picture/warped-window'
import { gradientAcross, type FillShape } from './fill'
import { contents, contentUses, isPainted, paintContent, type Content } from './registry'

const VIEW = { width: 90, height: 60 }
const noise: RgbaPicture = {
  width: 31,
  height: 23,
  pixels: Float32Array.from({ length: 4 * 31 * 23 }, (_, i) => ((i * 7919) % 1013) / 1013),
}
const pass = renderPass('occlusion', [sceneModel(ball(1.1, 12), 'ball')], fromFront(4), {
  width: 45,
  height: 30,
}).result
const resources = testResources({ p: noise }, { pass: (id) => (id === 'o' ? pass : null) })
const paint = (content: Content, window: Tile, view = VIEW) =>
  paintContent(content, {
    window,
    view,
    sheet: { width: 180, height: 120, fit: 'extend' },
    resources,
  })
const whole = (content: Content, view = VIEW) => paint(content, { x: 0, y: 0, ...view }, view)
const at = (pixels: Float32Array | null, x: number, y: number, width = VIEW.width) =>
  pixels ? [...pixels.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)] : []

const CONTENTS: readonly [string, Content][] = [
  ...(['even', 'linear', 'radial', 'angular'] as const).map((shape): [string, Content] => [
    `${shape} fill`,
    gradientFill(shape, ['#ff0000', '#00ff0080', '#0000ff'], [0.2, 0.3], [0.9, 0.6]),
  ]),
  ['pass', passOf('o', {})],
  ['picture', wholePicture('p')],
  ['placed picture', { ...wholePicture('p'), centre: [0.4, 0.7], size: [0.53, 0.31] }],
  ...TEXTURES.map(({ kind }): [string, Content] => [
    `${kind} texture`,
    contentOf('texture', { style: kind, size: 128, turnDeg: 20 }),
  ]),
  ['flare', contentOf('flare')],
  [
    'warped picture',
    {
      ...wholePicture('p'),
      corners: [
        [0.2, 0.1],
        [0.9, 0.25],
        [0.8, 0.9],
        [0.1, 0.7],
      ],
    },
  ],
  ['turned picture', { ...wholePicture('p'), centre: [0.5, 0.5], size: [0.6, 0.6], turnDeg: 31 }],
]

it('every content with pixels is among those that are held to this', () => {
  const held = new Set(CONTENTS.map(([, { kind }]) => kind))
  const painted = contents.kinds.filter((own) => 'paint' in own).map(({ kind }) => kind)
  expect(painted.filter((kind) => !held.has(kind))).toEqual([])
})

describe.each(CONTENTS)('%s', (_, content) => {
  it('is the same after it was stored, and says what it shows', () => {
    expect(contents.read(JSON.parse(JSON.stringify(content)))).toEqual(content)
    for (const id of contentUses(content)) expect(resources.pass(id) ?? resources.picture(id)).not.toBeNull()
    expect(isPainted(content)).toBe(true)
  })
  it('has numbers within what a display shows', () => {
    const pixels = whole(content)
    expect(pixels?.every((v) => v >= 0 && v <= 1)).toBe(true)
  })
  it('is the same however it is cut into windows', () => {
    const all = whole(content)
    expect(all).not.toBeNull()
    for (const window of [
      { x: 0, y: 0, width: 17, height: 60 },
      { x: 17, y: 3, width: 50, height: 11 },
      { x: 67, y: 40, width: 23, height: 20 },
    ]) {
      const part = paint(content, window)
      for (let y = 0; y < window.height; y++)
        for (let x = 0; x < window.width; x++) {
          const expected = at(all, window.x + x, window.y + y)
          const found = part ? at(part, x, y, window.width) : [0, 0, 0, 0]
          // Where nothing is to be seen colours do not count.
          if (expected[3] > 0 || found[3] > 0) expect(found).toEqual(expected)
        }
    }
  })
  it('is as bright small as it is large', () => {
    const mean = (pixels: Float32Array | null) => {
      const sums = [0, 0, 0, 0]
      for (let i = 0; pixels && i < pixels.length; i += 4) {
        for (let c = 0; c < 3; c++) sums[c] += pixels[i + c] * pixels[i + 3]
        sums[3] += pixels[i + 3]
      }
      return sums.map((sum) => (4 * sum) / (pixels?.length ?? 1))
    }
    const [large, small] = [mean(whole(content, { width: 180, height: 120 })), mean(whole(content, VIEW))]
    large.forEach((v, c) => expect(Math.abs(v - small[c])).toBeLessThan(0.012))
  })
})

describe('a texture', () => {
  const paintTile = (style: string, x: number, seed = 1) =>
    paintContent(contentOf('texture', { style, size: 64, seed }), {
      window: { x, y: 0, width: 64, height: 64 },
      view: { width: 256, height: 64 },
      sheet: { width: 256, height: 64, fit: 'extend' },
      resources,
    })
  it.each(TEXTURES.map(({ kind }) => kind))(
    'of %s goes on without a seam, and is another with another seed',
    (style) => {
      const [one, next] = [paintTile(style, 0), paintTile(style, 64)]
      one?.forEach((v, i) => expect(v).toBeCloseTo(next?.[i] ?? NaN, 4))
      const other = paintTile(style, 0, 2)
      expect(one?.some((v, i) => Math.abs(v - (other?.[i] ?? v)) > 0.02)).toBe(true)
      // Neither white nor black all over, and no jump across the seam that is larger than elsewhere.
      const steps = (x: number) =>
        Array.from({ length: 64 }, (_, y) => {
          const row = 4 * 64 * y
          return x === 63
            ? Math.abs((one?.[row + 4 * 63] ?? 0) - (next?.[row] ?? 0))
            : Math.abs((one?.[row + 4 * x] ?? 0) - (one?.[row + 4 * x + 4] ?? 0))
        }).reduce((a, b) => a + b, 0)
      const inner = Math.max(...Array.from({ length: 63 }, (_, x) => steps(x)))
      expect(steps(63)).toBeLessThanOrEqual(inner * 1.5 + 0.5)
    },
  )
})

describe('a picture between four corners', () => {
  it('comes to each of them, straight lines staying straight', () => {
    const quad = [
      [10, 4],
      [70, 12],
      [60, 50],
      [4, 40],
    ] as const
    const back = quadToSquare(quad)
    const to = (x: number, y: number) => {
      const [a, b, c, d, e, f, g, h, i] = back ?? []
      const w = g * x + h * y + i
      return [(a * x + b * y + c) / w, (d * x + e * y + f) / w]
    }
    const square = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ]
    quad.forEach(([x, y], k) => to(x, y).forEach((v, c) => expect(v).toBeCloseTo(square[k][c], 9)))
    // The middle of the upper side lies on the line between its ends.
    const [, v] = to(40, 8)
    expect(v).toBeCloseTo(0, 9)
  })
  it('of a rectangle is what it is without them', () => {
    const box = { ...wholePicture('p'), centre: [0.5, 0.5], size: [0.6, 0.6], turnDeg: 180 } as const
    const turned = whole({ ...box, centre: [...box.centre], size: [...box.size] })
    const warped = whole({
      ...wholePicture('p'),
      corners: [
        [0.8, 0.8],
        [0.2, 0.8],
        [0.2, 0.2],
        [0.8, 0.2],
      ],
    })
    turned?.forEach((v, i) => expect(v).toBeCloseTo(warped?.[i] ?? NaN, 3))
  })
  it('that lie in one line shows nothing', () => {
    const flat: Content = {
      ...wholePicture('p'),
      corners: [
        [0, 0],
        [0.5, 0.5],
        [1, 1],
        [0.2, 0.2],
      ],
    }
    expect(whole(flat)).toBeNull()
  })
})

describe('a fill', () => {
  const fill = (shape: FillShape, from: [number, number], to: [number, number]) =>
    whole(gradientFill(shape, ['#000000', '#ffffff'], from, to))
  it('runs straight between its ends and stays beyond them', () => {
    const pixels = fill('linear', [0.25, 0.5], [0.75, 0.5])
    const tone = (x: number) => at(pixels, x, 30)[0]
    expect([tone(0), tone(89)]).toEqual([0, 1])
    expect(tone(45)).toBeCloseTo((45.5 - 22.5) / 45, 5)
    expect(at(pixels, 45, 0)[0]).toBe(tone(45))
  })
  it('is round whatever the shape of the sheet', () => {
    const pixels = fill('radial', [0.5, 0.5], [0.5, 1])
    // As far to the side as down.
    expect(at(pixels, 45 + 15, 30)[0]).toBeCloseTo(at(pixels, 45, 30 + 15)[0], 5)
    expect(at(pixels, 45, 30)[0]).toBeLessThan(0.05)
  })
  it('turns once about its middle, from where it points on', () => {
    const pixels = fill('angular', [0.5, 0.5], [1, 0.5])
    expect(at(pixels, 80, 30)[0]).toBeLessThan(0.02)
    expect(at(pixels, 45, 55)[0]).toBeCloseTo(0.25, 1)
    expect(at(pixels, 10, 30)[0]).toBeCloseTo(0.5, 1)
    expect(at(pixels, 80, 29)[0]).toBeGreaterThan(0.98)
  })
  it('has a sharp step where two colours stand in one place', () => {
    const step: Content = {
      ...gradientFill('linear', ['#000000'], [0, 0.5], [1, 0.5]),
      stops: [
        { at: 0, colour: '#000000' },
        { at: 0.5, colour: '#000000' },
        { at: 0.5, colour: '#ffffff' },
        { at: 1, colour: '#ffffff' },
      ],
    }
    const pixels = whole(step)
    expect([at(pixels, 44, 5)[0], at(pixels, 45, 5)[0]]).toEqual([0, 1])
  })
  it('at an angle reaches the corners exactly (CSS Images 3)', () => {
    const { from, to } = gradientAcross(90, 300, 200)
    ;[0.5, 0].forEach((v, i) => expect(from[i]).toBeCloseTo(v, 9))
    ;[0.5, 1].forEach((v, i) => expect(to[i]).toBeCloseTo(v, 9))
    const slant = gradientAcross(45, 200, 200)
    ;[0, 0].forEach((v, i) => expect(slant.from[i]).toBeCloseTo(v, 9))
  })
})

describe('a picture', () => {
  it('cut through by its border covers pixels in part', () => {
    const pixels = whole({ ...wholePicture('p'), size: [0.5, 0.5] })
    const opaque: RgbaPicture = { width: 1, height: 1, pixels: Float32Array.of(1, 1, 1, 1) }
    const own = paintContent(
      { ...wholePicture('white'), centre: [0.25, 0.5], size: [0.35, 1] },
      {
        window: { x: 0, y: 0, width: 10, height: 4 },
        view: { width: 10, height: 4 },
        sheet: { width: 10, height: 4, fit: 'extend' },
        resources: testResources({ white: opaque }),
      },
    )
    // From 0.75 to 4.25 of ten pixels.
    const alphas = [0, 1, 2, 3, 4, 5].map((x) => at(own, x, 1, 10)[3])
    ;[0.25, 1, 1, 1, 0.25, 0].forEach((v, i) => expect(alphas[i]).toBeCloseTo(v, 5))
    expect(at(pixels, 2, 2)[3]).toBe(0)
  })
  it('turned by a half is what it was, upside down', () => {
    const [up, down] = [0, 180].map((turnDeg) => whole({ ...wholePicture('p'), turnDeg }))
    // Nine places a pixel against a filter: alike, not equal.
    const off = Array.from({ length: 40 }, (_, i) => {
      const [x, y] = [5 + 2 * i, 20]
      return Math.abs(at(up, x, y)[0] - at(down, VIEW.width - 1 - x, VIEW.height - 1 - y)[0])
    })
    expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(0.06)
  })
})

it('tells what each content shows, and which have pixels', () => {
  expect(contentUses(wholePicture('p'))).toEqual(['p'])
  expect(contentUses(gradientFill('even', ['#ffffff']))).toEqual([])
  expect(isPainted(wholePicture('p'))).toBe(true)
  expect(isPainted({ kind: 'wash', version: 1 })).toBe(false)
  expect(
    paintContent(wholePicture('gone'), {
      window: { x: 0, y: 0, width: 1, height: 1 },
      view: VIEW,
      sheet: { ...VIEW, fit: 'extend' },
      resources,
    }),
  ).toBeNull()
})
