import { describe, expect, it } from 'vitest'
import { ball, cube, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { passResultProblem, passResultSchema } from './check-result'
import { PASS_KINDS } from './registry'

const FRAME = { width: 20, height: 12 }
const SCENE = [sceneModel(cube(), 'block'), sceneModel(ball(1.2, 10), 'ball')]
const rendered = (kind: (typeof PASS_KINDS)[number]) => renderPass(kind, SCENE, fromFront(4), FRAME).result
const depth = rendered('depth')
const contour = rendered('contour')

describe('passResultProblem', () => {
  it.each(PASS_KINDS)('finds nothing wrong with what was rendered: %s', (kind) =>
    expect(passResultProblem(rendered(kind))).toBeNull(),
  )
  it.each([
    ['nothing', null, /the result: /],
    ['another thing', { channels: [] }, /kind: /],
    ['an unknown kind', { ...depth, kind: 'sparkle' }, /kind: /],
    ['no size', { ...depth, width: 0 }, /width: /],
    ['a channel too few', { ...depth, channels: depth.channels.slice(1) }, /it has \d channels?, not \d/],
    [
      'a channel of another format',
      { ...depth, channels: depth.channels.map((c) => Float64Array.from(c)) },
      /channel \w+ is not of \w+/,
    ],
    [
      'a channel cut short',
      { ...depth, channels: depth.channels.map((c) => c.slice(0, -1)) },
      /channel \w+ holds 239 numbers, not 240/,
    ],
    [
      'channels that have moved away',
      { ...depth, channels: depth.channels.map((c) => c.slice(0, 0)) },
      /holds 0/,
    ],
    ['a light that is none', { ...depth, lights: [{ id: 1 }] }, /lights\.0/],
    ['lines where there are none', { ...depth, drawing: contour.drawing }, /lines that its kind has none of/],
    ['no lines where there are some', { ...contour, drawing: null }, /its lines are missing/],
    ['damaged lines', { ...contour, drawing: { count: 3 } }, /its lines are damaged/],
    [
      'lines that do not fit',
      { ...contour, drawing: contour.drawing && { ...contour.drawing, points: new Float64Array(3) } },
      /points do not fit/,
    ],
  ])('names what is wrong with %s', (_what, value, words) => {
    expect(passResultProblem(value)).toMatch(words)
    expect(passResultSchema.safeParse(value).error?.issues[0].message).toMatch(words)
  })
})
