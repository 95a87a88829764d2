// One file: what holds of every content is tried on one sheet, kind by kind.
import { describe, expect, it } from 'vitest'
import { farthestOff } from '@/core/testing/farthest-off'
import { surfaceCoverage } from '../../passes/pass-result'
import type { Tile } from '../../passes/tile'
import { inBlocks, TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { RgbaPicture } from '../../picture/rgba-picture'
import { AT_ORIGIN, placementMatrix } from '../../scene/placement'
import { shippedFont } from '../../testing/fonts'
import { ball, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import { contentOf, gradientFill, passOf, wholePicture } from '../new-layer'
import { writeSvgLines } from '../../formats/svg-lines'
import { grownStrokes } from './cracks'
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
/** A tile that was painted: soft forms, partly clear. */
const tile = new Uint16Array(4 * TILE_PIXELS)
for (let p = 0; p < TILE_PIXELS; p++)
  for (let c = 0; c < 4; c++)
    tile[inBlocks(p, c)] = 65535 * (0.5 + 0.5 * Math.sin((p % TILE) / (9 + c) + Math.floor(p / TILE) / 13))
const HALF = { width: 45, height: 30 }
const camera = fromFront(4)
const renderShot = (kind: 'id' | 'depth') =>
  renderPass(kind, [sceneModel(ball(1.1, 12), 'ball')], camera, HALF).result
const [idPass, depthPass] = [renderShot('id'), renderShot('depth')]
const anton = shippedFont('anton')
const resources = testResources(
  { p: noise },
  {
    pass: (id) => (id === 'o' ? pass : null),
    shotPass: (_, kind) => (kind === 'id' ? idPass : kind === 'depth' ? depthPass : null),
    paintTile: (name) => (name === 'tile' ? tile : null),
    font: (id) => (id === 'anton' ? anton : null),
  },
)
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
  [
    'type',
    contentOf('type', {
      text: 'Quay',
      fontId: 'anton',
      size: 70,
      outline: 3,
      box: [0.05, 0.1, 0.9, 0.8],
      turnDeg: 8,
    }),
  ],
  ['flare', contentOf('flare')],
  ['specks', contentOf('specks', { many: 60, size: 9, drift: 20 })],
  ['fallen shadow', contentOf('fallenShadow', { soft: 8, softer: 60, over: 'all' })],
  [
    'cracks',
    contentOf('cracks', {
      lines: [
        [
          [0.1, 0.2],
          [0.5, 0.6],
          [0.9, 0.5],
        ],
      ],
      weight: 18,
    }),
  ],
  ['painting', { kind: 'painted', version: 1, width: 180, height: 120, tiles: { '0,0': 'tile' } }],
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
    for (const id of contentUses(content))
      expect(resources.pass(id) ?? resources.picture(id) ?? resources.font(id)).not.toBeNull()
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
      expect(farthestOff(one ?? [NaN], next ?? [])).toBeLessThan(5e-5)
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

describe('specks', () => {
  const depths = (content: Content) => {
    const found = whole(content)
    return Array.from({ length: VIEW.width * VIEW.height }, (_, i) => found?.[4 * i + 3] ?? 0)
  }
  const covered = surfaceCoverage(idPass, new Uint8Array(idPass.surfaces.length).fill(1))
  const many = { many: 4000, planes: 1, size: 6, aperture: 0 }

  it('float before what is farther, and are hidden by what is nearer, to its very edge', () => {
    const far = { ...many, near: 1.4, far: 1.5 }
    const behind = depths(contentOf('specks', far))
    const before = depths(contentOf('specks', { ...far, hides: false }))
    covered.forEach((share, i) => {
      const at = 2 * VIEW.width * Math.floor(i / 45) + 2 * (i % 45)
      if (share < 1) return
      for (const own of [at, at + 1, at + VIEW.width, at + VIEW.width + 1]) expect(behind[own]).toBe(0)
    })
    const sum = (alphas: number[]) => alphas.reduce((a, b) => a + b, 0)
    expect(sum(behind)).toBeGreaterThan(0.2 * sum(before))
    expect(sum(behind)).toBeLessThan(0.9 * sum(before))
  })
  it('are spread wider and fainter the farther they are from where it is sharp', () => {
    const one = { many: 12, planes: 1, near: 0.5, far: 0.5, hides: false, uneven: 0, flicker: 0, size: 40 }
    const sharp = depths(contentOf('specks', { ...one, focus: 0.5, aperture: 60 }))
    const soft = depths(contentOf('specks', { ...one, focus: -0.8, aperture: 60 }))
    const wide = (alphas: number[]) => alphas.filter((v) => v > 0.02).length
    expect(wide(soft)).toBeGreaterThan(1.5 * wide(sharp))
    expect(Math.max(...soft)).toBeLessThan(0.8 * Math.max(...sharp))
  })
})

it('cracks go out as lines: a path for each, within the picture they are seen in', () => {
  const content = contentOf('cracks', {
    lines: [
      [
        [0.2, 0.5],
        [0.8, 0.55],
      ],
    ],
    branches: 0.4,
  })
  if (content.kind !== 'cracks') throw new Error('no cracks')
  const { lines } = grownStrokes(content, { width: 180, height: 120 })
  const text = writeSvgLines(null, lines, { width: 180, height: 120 })
  expect(lines.count).toBeGreaterThan(1)
  expect(text.match(/<path/g)).toHaveLength(lines.count)
  expect(text).toContain('data-kind="drawn"')
  const [first] = /M[-\d.]+ [-\d.]+/.exec(text) ?? ['']
  expect(Math.abs(Number(first.slice(1).split(' ')[0]) - 36)).toBeLessThan(8)
})

describe('a fallen shadow', () => {
  const shadow = (values: object) =>
    whole(contentOf('fallenShadow', { soft: 0, softer: 0, fades: 0, strength: 1, over: 'all', ...values }))
  it('lies where its top is said to fall, upside down where that is below its foot', () => {
    // Mirrored at its foot, the ball's shadow is a ball as far below it.
    const found = shadow({ foot: [0.5, 0.5], head: [0.5, 0.1], falls: [0.5, 0.9] })
    const beside = shadow({ foot: [0.5, 1], head: [0.5, 0.1], falls: [1, 0.55] })
    expect(at(found, 45, 30)[3] ?? 0).toBe(0)
    expect(beside).not.toBeNull()
    if (!beside) return
    // Middle of the ball, 0.5 above its foot: five ninths of the way.
    const [x, y] = [0.5 + (5 / 9) * 0.5, 1 - (5 / 9) * 0.45]
    expect(at(beside, Math.floor(x * VIEW.width), Math.floor(y * VIEW.height))[3]).toBeCloseTo(1, 2)
    expect(at(beside, 5, 5)[3]).toBe(0)
  })
  it('keeps off what throws it, exactly', () => {
    const found = shadow({ foot: [0.5, 0.95], head: [0.5, 0.1], falls: [0.9, 0.1] })
    const covered = surfaceCoverage(idPass, new Uint8Array(idPass.surfaces.length).fill(1))
    covered.forEach((share, i) => {
      const place = 2 * VIEW.width * Math.floor(i / 45) + 2 * (i % 45)
      if (share === 1) expect(found?.[4 * place + 3]).toBeLessThan(0.5)
    })
  })
  it('falls on nothing that is nearer than where it stands', () => {
    // Thrown by a part that is not there: nothing.
    expect(shadow({ parts: ['no part'] })).toBeNull()
    const at = (x: number, z: number) => placementMatrix({ ...AT_ORIGIN, position: [x, 0, z] })
    const two = [
      { ...sceneModel(ball(0.6, 12), 'far'), transforms: [at(-1.2, -1)] },
      { ...sceneModel(ball(0.6, 12), 'near'), transforms: [at(1.2, 1)] },
    ]
    const shots = { id: renderPass('id', two, camera, HALF), depth: renderPass('depth', two, camera, HALF) }
    const both = testResources(
      {},
      { shotPass: (_, kind) => (kind === 'id' || kind === 'depth' ? shots[kind].result : null) },
    )
    // From the foot of the far one it falls to the right, over where the near one is.
    const fallen = (over: 'behind' | 'all') => {
      const values = {
        foot: [0.3, 0.64],
        head: [0.3, 0.36],
        falls: [0.9, 0.5],
        parts: ['far'],
        over,
        slack: 0.1,
      }
      const content = contentOf('fallenShadow', { ...values, strength: 1, fades: 0, soft: 0, softer: 0 })
      const sheet = { width: 180, height: 120, fit: 'extend' } as const
      const window = { x: 0, y: 0, ...VIEW }
      return paintContent(content, { window, view: VIEW, sheet, resources: both })
    }
    const near = surfaceCoverage(
      shots.id.result,
      Uint8Array.from(shots.id.result.surfaces, ({ part }) => Number(part === 'near')),
    )
    let [hidden, shown] = [0, 0]
    near.forEach((share, i) => {
      if (share < 1) return
      const place = 2 * VIEW.width * Math.floor(i / 45) + 2 * (i % 45)
      hidden += fallen('behind')?.[4 * place + 3] ?? 0
      shown += fallen('all')?.[4 * place + 3] ?? 0
    })
    expect(shown).toBeGreaterThan(3)
    expect(hidden).toBe(0)
  })
  it('is nothing without an ID pass, or along its own foot', () => {
    expect(shadow({ foot: [0.2, 0.5], falls: [0.9, 0.5] })).toBeNull()
  })
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
    expect(farthestOff(turned ?? [NaN], warped ?? [])).toBeLessThan(5e-4)
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
