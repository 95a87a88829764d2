import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { writeSvgLines } from '@/core/formats/svg-lines'
import { DEFAULT_LINE_SETTING, findLines } from '@/core/lines/find-lines'
import { inkStrokes } from '@/core/lines/ink-strokes'
import { LINE_STYLES } from '@/core/lines/line-style'
import { strokeLines } from '@/core/lines/stroke-lines'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { ball, cube, fromFront, sceneModel } from '@/core/testing/shapes'
import { BenchPage } from './bench-page'

const FRAME = { width: 960, height: 640 }
const scene = buildSceneGeometry([
  sceneModel(cube(0.7), 'Block & "corner"'),
  sceneModel(ball(0.95, 32), 'Ball'),
])
const drawing = findLines(scene, { ...fromFront(3), eye: [4, 3, 8] }, FRAME, {
  ...DEFAULT_LINE_SETTING,
  kinds: [...DEFAULT_LINE_SETTING.kinds, 'wire'],
})

let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
})
afterAll(async () => {
  await page?.close()
})

/** Alpha of a drawing file as the browser's own renderer inks it, and its groups as its own parser reads them. */
const drawn = (svg: string) =>
  page.driver.executeAsyncScript<{ alpha: number[]; groups: string[]; problem: string | null }>(
    `const [svg, width, height, done] = arguments
     const parsed = new DOMParser().parseFromString(svg, 'image/svg+xml')
     const problem = parsed.querySelector('parsererror')?.textContent ?? null
     const groups = [...parsed.querySelectorAll('g')].map((g) => [g.dataset.kind, g.dataset.part, g.dataset.visible].join(' | '))
     const image = new Image()
     image.onload = () => {
       // Larger, and averaged: a renderer of its own is not exact where strokes are thinner than its pixels.
       const times = 4
       const c = document.createElement('canvas')
       c.width = width * times
       c.height = height * times
       const g = c.getContext('2d')
       g.drawImage(image, 0, 0, c.width, c.height)
       const data = g.getImageData(0, 0, c.width, c.height).data
       const alpha = new Array(width * height).fill(0)
       for (let y = 0; y < c.height; y++)
         for (let x = 0; x < c.width; x++)
           alpha[Math.floor(y / times) * width + Math.floor(x / times)] += data[4 * (y * c.width + x) + 3] / times ** 2
       done({ alpha, groups, problem })
     }
     image.onerror = () => done({ alpha: [], groups, problem: problem ?? 'it cannot be drawn' })
     image.src = 'data:image/svg+xml;charset=utf-8,' + encodeURIComponent(svg)`,
    svg,
    FRAME.width,
    FRAME.height,
  )

describe('lines as a drawing file', () => {
  it.each(Object.keys(LINE_STYLES))('in %s look in another renderer as in ours', async (name) => {
    const strokes = strokeLines(drawing, LINE_STYLES[name].style)
    const found = await drawn(writeSvgLines(drawing, strokes, FRAME))
    expect(found.problem).toBeNull()
    expect(found.groups).toContain('silhouette | Ball | true')
    expect(found.groups.some((g) => g.includes('Block & "corner"'))).toBe(true)
    const ours = inkStrokes(strokes, { x: 0, y: 0, ...FRAME }, FRAME.height)
    let inked = 0
    let apart = 0
    let worst = 0
    for (let i = 0; i < found.alpha.length; i++) {
      const difference = Math.abs(found.alpha[i] / 255 - ours[4 * i + 3])
      inked += ours[4 * i + 3]
      apart += difference
      worst = Math.max(worst, difference)
    }
    expect(inked).toBeGreaterThan(500)
    // The other renderer is itself off by a few hundredths where strokes are thinner than its pixels, as those of dashes
    // are; broad ones agree within three. Single pixels differ where ends and dense wires meet.
    expect(apart / inked).toBeLessThan(name === 'felt' ? 0.04 : 0.09)
    expect(worst).toBeLessThan(0.45)
  })
})
