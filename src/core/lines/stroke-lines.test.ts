import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { drawingOf } from '../testing/drawings'
import { ball, cube, fromFront, sceneModel } from '../testing/shapes'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { writeSvgLines } from '../formats/svg-lines'
import { findLines } from './find-lines'
import { halfPlaneCoverage } from './half-plane-coverage'
import { inkStrokes } from './ink-strokes'
import { handEditSchema, meetsDrawn, partsBeneath, type HandEdit, type WeightEdit } from './hand-weights'
import { LINE_STYLES, lineStyleSchema, type LineStyle } from './line-style'
import { DRAWN, strokeLines, type Strokes } from './stroke-lines'

const styleOf = (changes: Partial<LineStyle> = {}): LineStyle => lineStyleSchema.parse(changes)

const STRAIGHT = [
  {
    points: [
      [0.2, 0.3],
      [1.2, 0.3],
    ] as const,
  },
]
const lengthOf = ({ starts, points }: Strokes, s: number): number => {
  let sum = 0
  for (let p = starts[s] + 1; p < starts[s + 1]; p++)
    sum += Math.hypot(points[2 * p] - points[2 * p - 2], points[2 * p + 1] - points[2 * p - 1])
  return sum
}
const alphaSum = (rgba: Float32Array) => {
  let sum = 0
  for (let i = 3; i < rgba.length; i += 4) sum += rgba[i]
  return sum
}

describe('halfPlaneCoverage', () => {
  it('is the area of the square that lies inside, for any slant', () => {
    const random = seededRandom(2)
    for (let run = 0; run < 200; run++) {
      const angle = run < 4 ? (run * Math.PI) / 4 : random() * 2 * Math.PI
      const [nx, ny] = [Math.cos(angle), Math.sin(angle)]
      const distance = (random() - 0.5) * 1.6
      let inside = 0
      const side = 60
      for (let i = 0; i < side * side; i++) {
        const x = ((i % side) + 0.5) / side - 0.5
        const y = (Math.floor(i / side) + 0.5) / side - 0.5
        if (distance + x * nx + y * ny > 0) inside++
      }
      expect(Math.abs(halfPlaneCoverage(distance, nx, ny) - inside / (side * side))).toBeLessThan(0.012)
      expect(halfPlaneCoverage(distance, nx, ny) + halfPlaneCoverage(-distance, nx, ny)).toBeCloseTo(1, 12)
    }
  })
})

describe('inkStrokes', () => {
  const frame = { x: 0, y: 0, width: 300, height: 200 }
  it('covers exactly the area of a stroke, at every slant and width', () => {
    for (const degrees of [0, 7, 30, 45, 73, 90]) {
      for (const weight of [2, 6, 20]) {
        const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
        const points = [
          [0.75 - 0.3 * c, 0.5 - 0.3 * s],
          [0.75 + 0.3 * c, 0.5 + 0.3 * s],
        ] as const
        const strokes = strokeLines(drawingOf([{ points }]), styleOf({ weight, crease: 1 }))
        const r = (weight / 2000) * 200
        const area = 2 * r * 0.6 * 200 + Math.PI * r * r
        expect(alphaSum(inkStrokes(strokes, frame, 200))).toBeCloseTo(area, -Math.log10(0.02 * area))
      }
    }
  })
  it('is the same in pieces as whole, and at twice the size covers four times the pixels', () => {
    const scene = buildSceneGeometry([sceneModel(cube(0.6)), sceneModel(ball(0.8, 24), 'ball')])
    const drawing = findLines(scene, { ...fromFront(3), eye: [4, 3, 8] }, frame)
    for (const { style } of Object.values(LINE_STYLES)) {
      const strokes = strokeLines(drawing, style)
      const whole = inkStrokes(strokes, frame, 200)
      for (const rect of [
        { x: 100, y: 50, width: 64, height: 40 },
        { x: 164, y: 90, width: 37, height: 61 },
      ]) {
        const part = inkStrokes(strokes, rect, 200)
        for (let y = 0; y < rect.height; y++)
          for (let x = 0; x < rect.width; x++)
            for (let c = 0; c < 4; c++)
              expect(part[4 * (y * rect.width + x) + c]).toBeCloseTo(
                whole[4 * ((rect.y + y) * 300 + rect.x + x) + c],
                5,
              )
      }
      const large = inkStrokes(strokes, { x: 0, y: 0, width: 1200, height: 800 }, 800)
      expect(alphaSum(large) / 16 / alphaSum(whole)).toBeCloseTo(1, 1)
    }
  })
  it('does not darken where pieces of one stroke overlap, and lays strokes over each other', () => {
    const bent = drawingOf([
      {
        points: [
          [0.3, 0.3],
          [0.7, 0.5],
          [0.7001, 0.5],
          [0.3, 0.7],
        ],
      },
      {
        points: [
          [0.5, 0.1],
          [0.5, 0.9],
        ],
      },
    ])
    const rgba = inkStrokes(strokeLines(bent, styleOf({ weight: 12, crease: 1 })), frame, 200)
    expect(rgba.every((v) => v <= 1 + 1e-6)).toBe(true)
    expect(rgba[4 * (100 * 300 + 139) + 3]).toBeCloseTo(1, 5)
  })
})

describe('strokeLines', () => {
  it('gives every kind its own weight, in thousandths of the height, and leaves out what has none', () => {
    const drawing = drawingOf([
      { ...STRAIGHT[0], kind: 'silhouette' },
      { ...STRAIGHT[0], kind: 'crease' },
    ])
    const strokes = strokeLines(drawing, styleOf({ weight: 4, silhouette: 1.5, crease: 0.5 }))
    expect(strokes.radii[0]).toBeCloseTo(0.003, 6)
    expect(strokes.radii[2]).toBeCloseTo(0.001, 6)
    expect(strokeLines(drawing, styleOf({ crease: 0 })).count).toBe(1)
  })
  it('makes near lines heavier by depth, lit ones thinner, and crowded ones thinner', () => {
    const near = { ...STRAIGHT[0], depth: 2 }
    const far = {
      points: [
        [0.2, 0.7],
        [1.2, 0.7],
      ] as const,
      depth: 9,
    }
    const byDepth = strokeLines(drawingOf([near, far]), styleOf({ byDepth: 0.8 }))
    expect(byDepth.radii[0]).toBeGreaterThan(1.5 * byDepth.radii[2])
    const lit = { ...STRAIGHT[0], normal: [-0.5, 0.7, 0.5] as const }
    const dark = { points: far.points, normal: [0.5, -0.7, 0.5] as const }
    const byLight = strokeLines(drawingOf([lit, dark]), styleOf({ byLight: 0.8 }))
    const first = byLight.radii[byLight.starts[0]]
    expect(first).toBeLessThan(0.5 * byLight.radii[byLight.starts[1]])
    const crowd = Array.from({ length: 9 }, (_, i) => ({
      points: [
        [0.2, 0.3 + 0.002 * i],
        [1.2, 0.3 + 0.002 * i],
      ] as const,
    }))
    const bySpacing = strokeLines(drawingOf([...crowd, far]), styleOf({ bySpacing: 1 }))
    const middle = (s: number) => bySpacing.radii[(bySpacing.starts[s] + bySpacing.starts[s + 1]) >> 1]
    expect(middle(4)).toBeLessThan(0.6 * middle(9))
  })
  it('tapers ends to what is asked, and keeps the middle', () => {
    const strokes = strokeLines(drawingOf(STRAIGHT), styleOf({ taper: 100, taperTo: 0.2, crease: 1 }))
    const full = 0.0008
    expect(strokes.radii[0]).toBeCloseTo(0.2 * full, 6)
    expect(strokes.radii[strokes.radii.length - 1]).toBeCloseTo(0.2 * full, 6)
    expect(Math.max(...strokes.radii)).toBeCloseTo(full, 6)
    for (let i = 1; i < 20; i++) expect(strokes.radii[i]).toBeGreaterThanOrEqual(strokes.radii[i - 1])
  })
  it('overshoots by what is asked, wobbles within its bound, and both the same every time', () => {
    expect(lengthOf(strokeLines(drawingOf(STRAIGHT), styleOf({ overshoot: 20 })), 0)).toBeCloseTo(1.04, 5)
    const style = styleOf({ wobble: 4, wobbleLength: 30 })
    const wobbly = strokeLines(drawingOf(STRAIGHT), style)
    let most = 0
    for (let p = 0; p < wobbly.radii.length; p++)
      most = Math.max(most, Math.abs(wobbly.points[2 * p + 1] - 0.3))
    expect(most).toBeGreaterThan(0.001)
    expect(most).toBeLessThanOrEqual(0.004)
    expect(strokeLines(drawingOf(STRAIGHT), style)).toEqual(wobbly)
  })
  it('wobbles and runs dry where a place is, however lines are cut and whichever way they go', () => {
    const style = styleOf({ wobble: 4, wobbleLength: 30, dry: 0.2 })
    const line = (...xs: number[]) => ({ points: xs.map((x) => [x, 0.3] as const) })
    const pointsOf = (...lines: ReturnType<typeof line>[]) => {
      const { points, radii } = strokeLines(drawingOf(lines), style)
      return Array.from(radii, (radius, p) => [points[2 * p], points[2 * p + 1], radius] as const)
    }
    const [from, to, between] = [0.2, 1.198, 0.2 + 100 * (0.998 / 250)]
    const whole = pointsOf(line(from, to))
    const cut = pointsOf(line(from, between), line(between, to))
    const back = pointsOf(line(to, from)).reverse()
    expect(cut).toHaveLength(whole.length + 1)
    const joined = [...cut.slice(0, 101), ...cut.slice(102)]
    for (const other of [joined, back])
      whole.forEach((point, p) =>
        point.forEach((number, c) => expect(other[p][c]).toBeCloseTo(number, c === 2 ? 6 : 5)),
      )
  })
  it('dashes hidden lines in whole dashes, one at each end, or leaves them out', () => {
    const hidden = drawingOf([{ ...STRAIGHT[0], hidden: 2 }])
    expect(strokeLines(hidden, styleOf()).count).toBe(0)
    const dashed = strokeLines(hidden, styleOf({ hidden: 'dashed', dash: 50 }))
    expect(dashed.count).toBe(11)
    for (let s = 0; s < dashed.count; s++) expect(lengthOf(dashed, s)).toBeCloseTo(1 / 21, 5)
    expect(dashed.points[0]).toBeCloseTo(0.2, 6)
    expect(dashed.points[dashed.points.length - 2]).toBeCloseTo(1.2, 6)
    expect(strokeLines(hidden, styleOf({ hidden: 'whole' })).count).toBe(1)
    expect(strokeLines(hidden, styleOf({ hidden: 'whole', hiddenBehind: 1 })).count).toBe(0)
  })
  it('breaks a dry stroke up, and gives parts and the light colours of their own', () => {
    const wet = strokeLines(drawingOf(STRAIGHT), styleOf({ dry: 0 }))
    const dry = strokeLines(drawingOf(STRAIGHT), styleOf({ dry: 1 }))
    expect(dry.count).toBeGreaterThan(wet.count)
    const byPart = strokeLines(
      drawingOf([
        STRAIGHT[0],
        {
          points: [
            [0.2, 0.6],
            [1, 0.6],
          ],
          part: 3,
        },
      ]),
      styleOf({ byPart: true }),
    )
    expect([...byPart.colours.subarray(0, 3)]).not.toEqual([...byPart.colours.subarray(6, 9)])
    const lit = { ...STRAIGHT[0], normal: [-0.5, 0.7, 0.5] as const }
    const twoTone = strokeLines(drawingOf([lit]), styleOf({ twoTone: true, litColour: '#ff0000' }))
    expect(twoTone.colours[0]).toBeCloseTo(1, 2)
  })
})

describe('writeSvgLines', () => {
  const scene = buildSceneGeometry([
    sceneModel(cube(0.6), 'Block "A" & <b>'),
    sceneModel(ball(0.5, 16), 'Ball'),
  ])
  const drawing = findLines(scene, { ...fromFront(3), eye: [4, 3, 8] }, { width: 300, height: 200 })
  const options = { width: 300, height: 200, partNames: scene.parts.map((p) => p.name) }

  it('has a group for each kind, part and visibility, hidden ones first, names escaped', () => {
    const svg = writeSvgLines(
      drawing,
      strokeLines(drawing, styleOf({ hidden: 'dashed', hiddenBehind: 9 })),
      options,
    )
    expect(svg).toContain('viewBox="0 0 300 200"')
    const heads = [...svg.matchAll(/<g [^>]*data-kind="([^"]*)" data-part="([^"]*)" data-visible="([^"]*)"/g)]
    expect(heads.length).toBeGreaterThan(3)
    expect(new Set(heads.map((h) => h.slice(1).join())).size).toBe(heads.length)
    expect(heads.map((h) => h[3])).toEqual([...heads.map((h) => h[3])].sort())
    expect(svg).toContain('Block &quot;A&quot; &amp; &lt;b&gt;')
    expect(svg).not.toContain('<b>')
    expect(svg.match(/<path /g)?.length).toBe(
      strokeLines(drawing, styleOf({ hidden: 'dashed', hiddenBehind: 9 })).count,
    )
  })
  it('tells widths true at print size', () => {
    const strokes = strokeLines(drawing, styleOf({ weight: 2, silhouette: 1 }))
    const svg = writeSvgLines(drawing, strokes, { ...options, heightMm: 420 })
    expect(svg).toContain('width="630mm" height="420mm"')
    // 2 ‰ of 200 units, and of 420 mm: 0.4 units, 0.84 mm.
    expect(svg).toContain('stroke-width="0.4"')
  })
})

describe('weights by hand', () => {
  const line = {
    points: [
      [0.2, 0.3],
      [1.2, 0.3],
    ] as const,
    part: 1,
  }
  const brush = (changes: Partial<WeightEdit> = {}): WeightEdit => ({
    kind: 'weight',
    path: [0.6, 0.3, 0.8, 0.3],
    radius: 0.1,
    amount: 1,
    parts: null,
    ...changes,
  })
  /** Half width of what covers a place along the line; 0 where nothing does. */
  const radiusNear = ({ starts, points, radii, count }: Strokes, x: number): number => {
    for (let s = 0; s < count; s++) {
      for (let p = starts[s]; p + 1 < starts[s + 1]; p++) {
        const [a, b] = [points[2 * p], points[2 * p + 2]]
        if (a <= x && x <= b) return radii[p] + ((radii[p + 1] - radii[p]) * (x - a)) / (b - a)
      }
    }
    return 0
  }
  const stroked = (...edits: HandEdit[]) => strokeLines(drawingOf([line]), styleOf({ crease: 1 }), { edits })

  it('thicken, thin and erase where the brush went, softly, and nowhere else', () => {
    const plain = 0.0008
    expect(radiusNear(stroked(brush()), 0.7)).toBeCloseTo(2 * plain, 6)
    expect(radiusNear(stroked(brush()), 0.3)).toBeCloseTo(plain, 6)
    const soft = radiusNear(stroked(brush()), 0.87)
    expect(soft).toBeGreaterThan(plain)
    expect(soft).toBeLessThan(2 * plain)
    expect(radiusNear(stroked(brush({ amount: -0.5 })), 0.7)).toBeCloseTo(plain / 2, 6)
    const erased = stroked(brush({ amount: -1 }))
    expect(erased.count).toBe(2)
    expect(radiusNear(erased, 0.7)).toBe(0)
  })
  it('keep to the parts they were brushed on, and hold when the line is found anew a little elsewhere', () => {
    expect(radiusNear(stroked(brush({ parts: ['a'] })), 0.7)).toBeCloseTo(0.0008, 6)
    expect(radiusNear(stroked(brush({ parts: ['b'] })), 0.7)).toBeCloseTo(0.0016, 6)
    const again = strokeLines(
      drawingOf([
        {
          points: [
            [0.2, 0.31],
            [1.1, 0.32],
          ],
          part: 1,
        },
      ]),
      styleOf({ crease: 1 }),
      {
        edits: [brush({ parts: ['b'] })],
      },
    )
    expect(radiusNear(again, 0.7)).toBeCloseTo(0.0016, 5)
  })
  it('add up, and lines drawn by hand come last, in a group of their own', () => {
    expect(radiusNear(stroked(brush(), brush({ amount: -0.5 })), 0.7)).toBeCloseTo(0.0008, 6)
    const drawn = stroked({ kind: 'line', path: [0.1, 0.8, 0.4, 0.9], weight: 3 })
    expect(drawn.count).toBe(2)
    expect(drawn.lines[1]).toBe(DRAWN)
    expect(drawn.radii[drawn.radii.length - 1]).toBeCloseTo(0.0015, 6)
    const svg = writeSvgLines(drawingOf([line]), drawn, { width: 300, height: 200 })
    expect(svg).toContain('data-kind="drawn" data-part="by hand" data-visible="true"')
  })
  it('reach lines drawn before them, whatever parts they keep to, and none drawn after', () => {
    const drawnLine: HandEdit = { kind: 'line', path: [0.2, 0.8, 1.2, 0.8], weight: 4 }
    const erase: HandEdit = { kind: 'weight', path: [0.7, 0.8], radius: 0.1, amount: -1, parts: [] }
    const erased = stroked(drawnLine, erase)
    // Of the drawn line two pieces are left, one on either side.
    expect([...erased.lines].filter((l) => l === DRAWN)).toHaveLength(2)
    expect([...stroked(erase, drawnLine).lines].filter((l) => l === DRAWN)).toHaveLength(1)
    expect(radiusNear(stroked(drawnLine, erase), 0.3)).toBeGreaterThan(0)
    expect(meetsDrawn([drawnLine], [0.7, 0.75], 0.06)).toBe(true)
    expect(meetsDrawn([drawnLine], [0.7, 0.7], 0.06)).toBe(false)
    expect(meetsDrawn([erase], [0.7, 0.8], 0.06)).toBe(false)
  })
  it('name the parts whose seen lines lie beneath the brush', () => {
    const keys = ['a', 'b', 'c', 'd']
    const lines = [
      {
        points: [
          [0.1, 0.5],
          [1.4, 0.5],
        ],
        part: 0,
      },
      {
        points: [
          [0.7, 0.1],
          [0.7, 0.2],
        ],
        part: 1,
      },
      {
        points: [
          [0.7, 0.48],
          [0.7, 0.52],
        ],
        part: 2,
        hidden: 1,
      },
      {
        points: [
          [0.66, 0.42],
          [0.9, 0.42],
        ],
        part: 3,
      },
    ] as const
    const drawing = drawingOf(lines, keys)
    expect(partsBeneath(drawing, [0.6, 0.5, 0.8, 0.5], 0.05)).toEqual(['a'])
    expect(partsBeneath(drawing, [0.6, 0.5, 0.8, 0.5], 0.1)).toEqual(['a', 'd'])
    expect(partsBeneath(drawing, [0.7, 0.15], 0.02)).toEqual(['b'])
    expect(partsBeneath(drawing, [0.1, 0.9], 0.05)).toEqual([])
  })
  it('are refused when they hold what is no place or no amount', () => {
    expect(handEditSchema.safeParse(brush()).success).toBe(true)
    for (const bad of [
      brush({ path: [NaN, 1] }),
      brush({ radius: 0 }),
      brush({ amount: -2 }),
      brush({ path: [] }),
    ])
      expect(handEditSchema.safeParse(bad).success).toBe(false)
  })
})
